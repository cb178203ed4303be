/** What each phase can make. A new layer begins where the painter looks, at a size that suits the sheet. */
import { newLayerId, type Sha256 } from '@wet-lacquer/core/livery/ids.ts';
import { Layer, PHASES, type LayerKind, type Phase } from '@wet-lacquer/core/livery/layer.ts';
import { type Livery, schemePaint } from '@wet-lacquer/core/livery/livery.ts';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import type { DecalCard } from '../../lib/types.ts';

export interface Place {
  sheet: TemplateSheet;
  /** Middle of what is in view, texels. */
  x: number;
  y: number;
  livery: Livery;
}

export interface Maker {
  key: string;
  phase: Phase;
  name: string;
  what: string;
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

const fade =
  (shape: 'linear' | 'radial') =>
  ({ x, y, sheet, livery }: Place) => {
    const length = Math.round(sheet.width / 3);
    const ends = { stops: [0, 1].map((at) => ({ at, paint: schemePaint(livery, at), opacity: 100 })) };
    return newLayer('fade', shape === 'linear' ? 'Fade' : 'Radial fade', 'Base', {
      shape,
      x: shape === 'linear' ? x - length / 2 : x,
      y,
      length,
      angle: 0,
      ...ends,
    });
  };

const lettering =
  (name: string, text: string, share: number) =>
  ({ x, y, sheet, livery }: Place) =>
    newLayer('lettering', name, 'Marks', {
      text,
      font: share > 0.05 ? 'russo-one' : 'barlow-condensed',
      size: Math.round(sheet.height * share),
      x,
      y,
      turn: 0,
      paint: schemePaint(livery, 3),
      outline: null,
      spacing: 4,
      slant: 0,
      mirrored: false,
    });

export const MAKERS: readonly Maker[] = [
  {
    key: 'solid',
    phase: 'Base',
    name: 'Solid',
    what: 'one colour over the sheet or some parts',
    make: ({ livery }) => newLayer('solid', 'Solid', 'Base', { paint: schemePaint(livery, 0) }),
  },
  { key: 'fade', phase: 'Base', name: 'Fade', what: 'along a line, any number of stops', make: fade('linear') },
  { key: 'radial', phase: 'Base', name: 'Radial fade', what: 'outwards from a centre', make: fade('radial') },
  {
    key: 'stripe',
    phase: 'Pattern',
    name: 'Stripe',
    what: 'straight, width in texels',
    make: ({ x, y, sheet, livery }) =>
      newLayer('stripe', 'Stripe', 'Pattern', {
        paint: schemePaint(livery, 2),
        x,
        y,
        angle: 0,
        width: Math.round(sheet.height / 24),
        softness: 0,
      }),
  },
  {
    key: 'stripe-set',
    phase: 'Pattern',
    name: 'Stripe set',
    what: 'parallel stripes with gaps',
    make: ({ x, y, sheet, livery }) =>
      newLayer('stripe-set', 'Stripe set', 'Pattern', {
        paints: [schemePaint(livery, 2), schemePaint(livery, 1)],
        x,
        y,
        angle: 0,
        width: Math.round(sheet.height / 48),
        gap: Math.round(sheet.height / 64),
        count: 4,
        softness: 0,
      }),
  },
  {
    key: 'chequer',
    phase: 'Pattern',
    name: 'Chequer',
    what: 'a field of two colours in turn',
    make: ({ x, y, sheet, livery }) =>
      newLayer('chequer', 'Chequer', 'Pattern', {
        paint: schemePaint(livery, 1),
        other: null,
        x,
        y,
        angle: 0,
        cell: Math.round(sheet.height / 40),
        columns: 8,
        rows: 3,
      }),
  },
  {
    key: 'hazard',
    phase: 'Pattern',
    name: 'Hazard stripes',
    what: 'slanting bars in a box',
    make: ({ x, y, sheet, livery }) =>
      newLayer('hazard', 'Hazard stripes', 'Pattern', {
        paint: schemePaint(livery, 1),
        other: schemePaint(livery, 2),
        x,
        y,
        width: Math.round(sheet.width / 4),
        height: Math.round(sheet.height / 24),
        turn: 0,
        bar: Math.round(sheet.height / 40),
        slant: 40,
      }),
  },
  {
    key: 'line',
    phase: 'Pattern',
    name: 'Curved line',
    what: 'through points, wide or narrow at either end',
    make: ({ x, y, sheet, livery }) => {
      const side = Math.round(sheet.width / 6);
      const width = Math.round(sheet.height / 30);
      return newLayer('shape', 'Curved line', 'Pattern', {
        paint: schemePaint(livery, 2),
        x,
        y,
        paths: [
          {
            knots: [
              { x: -side, y: side / 3, smooth: true },
              { x: 0, y: -side / 3, smooth: true },
              { x: side, y: side / 3, smooth: true },
            ],
            closed: false,
            how: 'add',
          },
        ],
        line: { width, endWidth: Math.round(width / 4), count: 1, gap: Math.round(width / 2) },
      });
    },
  },
  {
    key: 'shape',
    phase: 'Pattern',
    name: 'Shape',
    what: 'an outline of corners or curves, filled',
    make: ({ x, y, sheet, livery }) => {
      const side = Math.round(sheet.width / 10);
      return newLayer('shape', 'Shape', 'Pattern', {
        paint: schemePaint(livery, 2),
        x,
        y,
        paths: [
          {
            knots: [
              { x: -side, y: -side / 2, smooth: false },
              { x: side, y: -side / 2, smooth: false },
              { x: side / 2, y: side / 2, smooth: false },
              { x: -side, y: side / 2, smooth: false },
            ],
            closed: true,
            how: 'add',
          },
        ],
        line: null,
      });
    },
  },
  {
    key: 'halftone',
    phase: 'Pattern',
    name: 'Half-tone',
    what: 'dots that shrink: a fade of two colours',
    make: ({ x, y, sheet, livery }) =>
      newLayer('halftone', 'Half-tone', 'Pattern', {
        paint: schemePaint(livery, 1),
        x,
        y,
        length: Math.round(sheet.width / 4),
        angle: 0,
        pitch: Math.max(4, Math.round(sheet.width / 100)),
      }),
  },
  {
    key: 'brushwork',
    phase: 'Retouch',
    name: 'Brushwork',
    what: 'painted, rubbed out and cloned by hand',
    make: () => newLayer('brush', 'Brushwork', 'Retouch', { strokes: [] }),
  },
  {
    key: 'adjust',
    phase: 'Retouch',
    name: 'Adjustment',
    what: 'levels, hue, recolour and more for all that is below',
    make: () =>
      newLayer('adjust', 'Adjustment', 'Retouch', {
        filters: [{ kind: 'levels', channel: 'all', black: 0, white: 255, gamma: 1, outBlack: 0, outWhite: 255 }],
      }),
  },
  {
    key: 'lettering',
    phase: 'Marks',
    name: 'Lettering',
    what: 'a line of text',
    make: lettering('Lettering', 'LETTERING', 0.035),
  },
  {
    key: 'number',
    phase: 'Marks',
    name: 'Number',
    what: 'bound to the livery’s number',
    make: lettering('Number', '{number}', 0.09),
  },
];

/** A library decal placed in view, a sixth of the sheet wide. */
export function decalLayer(decal: DecalCard, { x, y, sheet }: Place): Layer {
  const width = Math.round(sheet.width / 6);
  return newLayer('decal', decal.name, 'Marks', {
    blob: decal.blob as Sha256,
    source: decal.source,
    ratio: decal.ratio,
    keepRatio: true,
    x,
    y,
    width,
    height: Math.max(1, width / decal.ratio),
    turn: 0,
    mirrored: false,
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
