/** Forty layers of all kinds for a sheet of 4096 x 4096: half of them full-sheet, a quarter in modes other than normal. */
import { Layer } from '../../packages/core/src/livery/layer.ts';

export const SIDE = 4096;
const MODES = ['multiply', 'screen', 'overlay', 'soft-light'] as const;

export const layers = Array.from({ length: 40 }, (_, i): Layer => {
  const base = {
    id: `l${i}`,
    name: `Layer ${i}`,
    phase: 'Base',
    hidden: false,
    locked: false,
    opacity: i > 0 && i % 4 === 3 ? 80 : 100,
    blend: i % 4 === 2 ? MODES[(i >> 2) % 4] : 'normal',
    parts: [],
  };
  const paint = { hex: ['#d9573f', '#2f5d62', '#e8e4da', '#20282b'][i % 4] };
  const stops = [
    { at: 0, paint, opacity: 60 },
    { at: 1, paint: { hex: '#e8e4da' }, opacity: 0 },
  ];
  const at = { x: 2048, y: 100 * i };
  if (i === 0) return Layer.parse({ ...base, kind: 'solid', paint: { hex: '#e8e4da' } });
  if (i === 20) return Layer.parse({ ...base, kind: 'brush', strokes: [] });
  switch (i % 8) {
    case 0:
    case 2:
      return Layer.parse({
        ...base,
        kind: 'fade',
        shape: 'linear',
        x: 100 * i,
        y: 0,
        length: 3000,
        angle: i * 9,
        stops,
      });
    case 4:
      return Layer.parse({ ...base, kind: 'solid', paint, opacity: 20 });
    case 6:
      return Layer.parse({
        ...base,
        kind: 'stripe-set',
        paints: [paint],
        ...at,
        angle: 12,
        width: 80,
        gap: 80,
        count: 25,
        softness: 0,
      });
    case 1:
      return Layer.parse({ ...base, kind: 'stripe', paint, ...at, angle: i * 4, width: 80, softness: i % 2 ? 0 : 12 });
    case 3:
      return Layer.parse({
        ...base,
        kind: 'chequer',
        paint,
        other: null,
        ...at,
        angle: 0,
        cell: 60,
        columns: 20,
        rows: 5,
      });
    case 5:
      return Layer.parse({
        ...base,
        kind: 'hazard',
        paint,
        other: null,
        ...at,
        width: 2000,
        height: 200,
        turn: 3,
        bar: 60,
        slant: 40,
      });
    default:
      return Layer.parse({ ...base, kind: 'halftone', paint, x: 500, y: 500, length: 600, angle: 30, pitch: 24 });
  }
});
