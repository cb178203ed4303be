/** What each phase can make. A new layer begins where the painter looks, at a size that suits the sheet. */
import { finishesOf } from '@wet-lacquer/core/livery/finish.ts';
import { newLayerId, type Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import type { LayerMaker } from '@wet-lacquer/core/layers/data.ts';
import { Layer, LAYERS, PHASES, type LayerKind, type Phase } from '@wet-lacquer/core/livery/layer.ts';
import { type Livery, schemePaint } from '@wet-lacquer/core/livery/livery.ts';
import type { Template, TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import type { MarkPlace } from '@wet-lacquer/core/livery/markPlace.ts';
import { spotOfTexel, surfaceOf } from '@wet-lacquer/core/surface/locate.ts';
import { boxOfMesh } from '@wet-lacquer/core/surface/triangles.ts';
import type { DecalCard } from '@wet-lacquer/sync/answers.ts';

export interface Place {
  sheet: TemplateSheet;
  template: Template;
  /** Middle of what is in view, texels. */
  x: number;
  y: number;
  /** Where a first mark is seen; none: it goes where the painter looks. */
  mark?: MarkPlace | null;
  livery: Livery;
}

/** Where on the model the middle of what is in view lies, or where a first mark is seen. */
export function spotUnder(
  template: Template,
  { sheet, x, y, mark }: Pick<Place, 'sheet' | 'x' | 'y' | 'mark'>,
): [number, number, number] | null {
  const surface = surfaceOf(template, sheet.key);
  return (spotOfTexel(surface, x, y) ?? (mark && spotOfTexel(surface, mark.x, mark.y)))?.position ?? null;
}

export interface Maker extends Omit<LayerMaker, 'make'> {
  onModel: boolean;
  make(place: Place): Layer;
}

const base = (name: string, phase: Phase) => ({
  id: newLayerId(),
  name,
  phase,
  hidden: false,
  locked: false,
  opacity: 100,
  blend: 'normal' as const,
  parts: [],
});

/** A layer with nothing said yet of how it mixes and where it shows. */
export const newLayer = <K extends LayerKind>(kind: K, name: string, phase: Phase, rest: object): Layer =>
  Layer.parse({ kind, ...base(name, phase), ...rest });

/** The ways to begin a layer of a subject: on a sheet that stands as a board there is no model to go round. */
export const makersFor = ({ boards }: Pick<Template, 'boards'>): Maker[] =>
  MAKERS.filter(({ onModel }) => !onModel || !boards);

/** Every way to begin a layer, kind by kind. */
export const MAKERS: readonly Maker[] = Object.entries(LAYERS).flatMap(([kind, { makers, onModel = false }]) =>
  makers.map((maker): Maker => ({
    ...maker,
    onModel,
    make: ({ livery, template, ...place }) =>
      newLayer(
        kind as LayerKind,
        maker.name,
        maker.phase,
        maker.make({
          ...place,
          model: boxOfMesh(template.mesh),
          paint: (n) => schemePaint(livery, n),
          spot: () => spotUnder(template, place),
          finishes: finishesOf(livery).map(({ id }) => id),
        }),
      ),
  })),
);

/** Of the room around the place of a first mark, how wide and high a decal is at most. */
const DECAL_ROOM = 1.2;

/** A library decal placed in view, a sixth of the sheet wide, or as a first mark where it is seen. */
export function decalLayer(decal: DecalCard, { x, y, sheet, mark }: Pick<Place, 'x' | 'y' | 'sheet' | 'mark'>): Layer {
  const width = mark
    ? Math.round(mark.radius * DECAL_ROOM * Math.min(1, decal.ratio)) || 1
    : Math.round(sheet.width / 6);
  return newLayer('decal', decal.name, 'Marks', {
    blob: decal.blob as Sha256,
    source: decal.source,
    ratio: decal.ratio,
    keepRatio: true,
    x: mark?.x ?? x,
    y: mark?.y ?? y,
    width,
    height: Math.max(1, width / decal.ratio),
    turn: mark?.turn ?? 0,
    mirrored: mark?.mirrored ?? false,
    recolour: [],
  });
}

/** A baked shading over the whole sheet, multiplied. */
export const shadingLayer = (name: string, baked: { blob: string; width: number; height: number }): Layer =>
  Layer.parse({
    kind: 'picture',
    ...base(name, 'Base'),
    blend: 'multiply',
    blob: baked.blob,
    left: 0,
    top: 0,
    width: baked.width,
    height: baked.height,
  });

/** Where a new layer goes: directly above the chosen one, else above what belongs before it and under what comes after. */
export function indexFor(layers: readonly Layer[], phase: Phase, chosen: string | null): number {
  const at = layers.findIndex((l) => l.id === chosen);
  if (at >= 0) return at + 1;
  return layers.findLastIndex((l) => PHASES.indexOf(l.phase) <= PHASES.indexOf(phase)) + 1;
}
