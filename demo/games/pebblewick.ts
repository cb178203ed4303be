/** Pebblewick: a level in two dimensions, with frames, colliders and twelve settings in pixels. */
import { spec } from '../../packages/core/src/games/pebblewick/spec.ts';
import type { ParameterBox } from '../../packages/core/src/livery/template.ts';
import type { Vec } from '../patches.ts';
import { makeSubject, panel, quad, sheet, type Box, type Subject } from './subject.ts';

export function subject(): Subject {
  const settings: [name: string, means: string, hex: string][] = [
    ['Sea fog', 'Haze over the water; clear removes it', '#b9ccd680'],
    ['Lamp glow', 'Light around lamps after dusk', '#ffd9a0c0'],
    ['Ground litter', 'Leaves and shells on the ground; clear removes them', '#8a7a5cff'],
    ['Sky, top', 'Upper colour of the sky', '#4d7ea8ff'],
    ['Sky, foot', 'Lower colour of the sky', '#d7e3e8ff'],
    ['Water, shallow', 'Water near the shore', '#5fa7a0d0'],
    ['Water, deep', 'Water far out', '#1e4e5eff'],
    ['Foam', 'Where water meets stone', '#f2f7f5ff'],
    ['Moss', 'On stones that lie in the shade', '#5d7a3aa0'],
    ['Rain', 'Streaks while it rains; clear lets it stay dry', '#c8d4dc60'],
    ['Shadow', 'Under everything that stands', '#10182080'],
    ['Tint', 'Over the whole level; clear leaves it', '#00000000'],
  ];
  const boxes = settings.map(([name, means, hex], i): ParameterBox => ({
    key: name.toLowerCase().replace(/[^a-z]+/g, '-'),
    name,
    means,
    left: 16 + i * 40,
    top: 976,
    width: 32,
    height: 32,
    hex,
  }));
  const rect = (x: number, y: number, w: number, h: number) => [x, y, x + w, y, x + w, y + h, x, y + h];
  const round = (x: number, y: number, r: number) =>
    Array.from({ length: 24 }, (_, i) => [x + r * Math.cos((i * Math.PI) / 12), y + r * Math.sin((i * Math.PI) / 12)])
      .flat()
      .map((v) => Math.round(v * 100) / 100);
  const tiles: [name: string, box: Box][] = [
    ['ledge', [32, 32, 448, 160]],
    ['jetty', [32, 256, 448, 128]],
    ['boulder', [560, 32, 288, 288]],
    ['lamp', [560, 400, 120, 400]],
    ['bollard', [760, 480, 160, 240]],
    ['crate', [32, 448, 256, 256]],
  ];
  const outlines = tiles.flatMap(([name, [x, y, w, h]]) => [
    { key: `${name}-frame`, name: `${name}, frame`, sheet: 'level', role: 'frame' as const, rings: [rect(x, y, w, h)] },
    {
      key: `${name}-collider`,
      name: `${name}, collider`,
      sheet: 'level',
      role: 'collider' as const,
      rings: [name === 'boulder' ? round(x + w / 2, y + h / 2, w / 2 - 24) : rect(x + 16, y + 16, w - 32, h - 24)],
    },
  ]);
  // Cards that stand as they do in the level.
  const stands: Record<string, Vec> = {
    ledge: [-3.6, 0, 0],
    jetty: [0.2, 0, -0.1],
    boulder: [-3.3, 1, -0.3],
    lamp: [-1.3, 1, 0.1],
    bollard: [2, 0.8, 0.1],
    crate: [0.8, 0.8, 0.2],
  };
  const patches = tiles.map(([name, box]) => {
    const [x, y, z] = stands[name];
    const scale = name === 'crate' ? 240 : 160;
    const [w, h] = [box[2] / scale, box[3] / scale];
    return panel(name, 'level', box, quad([x, y + h, z], [x + w, y + h, z], [x + w, y, z], [x, y, z]), {
      columns: 4,
      rows: 4,
    });
  });
  const sheets = [sheet('level', 1024, { alpha: 'coverage', boxes })];
  return makeSubject(
    'pebblewick-level',
    'Pebblewick level',
    spec,
    sheets,
    patches,
    {},
    { outlines, primer: { level: '#c2b08f' } },
  );
}
