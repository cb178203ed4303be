/** Gloss, metal and normals of the model, as its light needs them: from the maps that are delivered, else from the finishes. */
import { setsFinish, SURFACE_MAP } from '@wet-lacquer/core/finish/derived.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { heldIn } from '@wet-lacquer/core/held.ts';
import type { SurfaceTextures } from '../../parts/lit.ts';
import { greenDown, normalOf, valuesOf } from '../../parts/surfaceMaps.ts';
import type { Stage } from '../../parts/stage.ts';
import type { RenderClient } from '../../workers/renderClient.ts';
import { ModelTextures } from './textures.ts';

/** Texels along a sheet's longer side: highlights need fewer than lettering does. */
const SIDE = 512;
/** The paint comes first: these follow when things have been still for so long. */
const AFTER_MS = 450;

/** Whether the subject brings maps of its surface beside its paint. */
const hasMaps = (sheet: TemplateSheet): boolean => normalOf(sheet) !== null || valuesOf(sheet).map !== SURFACE_MAP;

class ModelSurfaces {
  private readonly values: ModelTextures;
  private readonly normals: ModelTextures | null;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly template: Template,
    client: RenderClient,
    onChange: () => void,
  ) {
    const sheetOf = new Map(template.sheets.map((sheet) => [sheet.key, sheet]));
    const showing = (mapOf: (sheet: TemplateSheet) => string) => ({
      shownOf: (key: string) => ({ map: mapOf(heldIn(sheetOf, key)), channel: null }),
      side: SIDE,
      coloured: false,
    });
    this.values = new ModelTextures(
      template,
      client,
      onChange,
      showing((sheet) => valuesOf(sheet).map),
    );
    const bent = { ...template, sheets: template.sheets.filter((sheet) => normalOf(sheet) !== null) };
    this.normals =
      bent.sheets.length > 0
        ? new ModelTextures(
            bent,
            client,
            onChange,
            showing((sheet) => normalOf(sheet)!),
          )
        : null;
  }

  get bySheet(): ReadonlyMap<string, SurfaceTextures> {
    const [values, normals] = [this.values.bySheet, this.normals?.bySheet];
    return new Map(
      this.template.sheets.map((sheet) => [
        sheet.key,
        {
          values: values.get(sheet.key)!,
          reads: valuesOf(sheet).reads,
          normal: normals?.get(sheet.key) ?? null,
          greenDown: greenDown(sheet),
        },
      ]),
    );
  }

  /** Follows a livery, a little later than its paint does. */
  show(livery: Livery, first: string): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      this.values.show(livery, first, null);
      this.normals?.show(livery, first, null);
    }, AFTER_MS);
  }

  close(): void {
    clearTimeout(this.timer);
    this.values.close();
    this.normals?.close();
  }
}

/** The surfaces of the model on a stage, as long as there are any. */
export class StageSurfaces {
  private shown: ModelSurfaces | null = null;
  /** There is more to it than paint, whether somebody set a finish or not. */
  private readonly always: boolean;

  constructor(
    private readonly template: Template,
    private readonly client: RenderClient,
    private readonly stage: Stage,
  ) {
    this.always = template.sheets.some(hasMaps);
  }

  show(livery: Livery, first: string): void {
    const wanted = this.always || this.template.sheets.some(({ key }) => setsFinish(livery, key));
    if (wanted !== (this.shown !== null)) {
      this.close();
      this.shown = wanted ? new ModelSurfaces(this.template, this.client, () => this.stage.draw()) : null;
      this.stage.finish(this.shown?.bySheet ?? null);
    }
    this.shown?.show(livery, first);
  }

  close(): void {
    this.shown?.close();
    this.shown = null;
  }
}
