/** Gloss, metal and normals of the model, as its light needs them: from the maps that are delivered, else from the finishes. */
import { setsFinish, SURFACE_MAP } from '@wet-lacquer/core/finish/derived.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { SurfaceTextures } from '../../parts/lit.ts';
import { normalOf, valuesOf } from '../../parts/surfaceMaps.ts';
import type { Stage } from '../../parts/stage.ts';
import type { RenderClient } from '../../workers/renderClient.ts';
import { ModelTextures } from './textures.ts';

/** Texels along a sheet's longer side: highlights need fewer than lettering does. */
const SIDE = 512;
/** The paint comes first: these follow when things have been still for so long. */
const AFTER_MS = 450;

/** Whether there is more to a livery's surfaces than paint: finishes that were set, or the game's own maps. */
const hasSurfaces = (livery: Livery, template: Template): boolean =>
  template.sheets.some(
    (sheet) => setsFinish(livery, sheet.key) || normalOf(sheet) !== null || valuesOf(sheet).map !== SURFACE_MAP,
  );

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
    const shown = (map: string) => ({ map, channel: null });
    this.values = new ModelTextures(
      ...([template, client, onChange, (key: string) => shown(valuesOf(sheetOf.get(key)!).map), SIDE, false] as const),
    );
    const bent = template.sheets.filter((sheet) => normalOf(sheet) !== null);
    this.normals =
      bent.length === 0
        ? null
        : new ModelTextures(
            ...([
              { ...template, sheets: bent },
              client,
              onChange,
              (key: string) => shown(normalOf(sheetOf.get(key)!)!),
              SIDE,
              false,
            ] as const),
          );
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

  constructor(
    private readonly template: Template,
    private readonly client: RenderClient,
    private readonly stage: Stage,
  ) {}

  show(livery: Livery, first: string): void {
    const wanted = hasSurfaces(livery, this.template);
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
