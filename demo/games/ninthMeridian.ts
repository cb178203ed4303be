/** Ninth Meridian: the hull is one unrolled skin, cut amidships into two sheets; every sheet has a lamp-lit night map. */
import { spec } from '../../packages/core/src/games/ninthMeridian/spec.ts';
import { proposeRun } from '../../packages/core/src/surface/runs.ts';
import type { Patch, Vec } from '../patches.ts';
import { text } from './files.ts';
import { makeSubject, panel, quad, sheet, tube, type Subject } from './subject.ts';

export function subject(): Subject {
  const night = { maps: [{ key: 'night', name: 'Night', alpha: 'none' as const }] };
  const beam = (x: number) =>
    0.62 * (1 - Math.abs(x - 0.4) ** 3 / 120) * (x > 2.6 ? Math.sqrt(Math.max(0.02, (3.4 - x) / 0.8)) : 1);
  /** From starboard keel over the spine to port keel, so that the port side reads the right way up with the bow left. */
  const skin = (x: number, around: number): Vec => {
    // 0 is straight up; the seam runs along the keel.
    const angle = Math.PI * (0.92 - 1.84 * around);
    const r = beam(x);
    return [x, 1.5 + (Math.cos(angle) * 0.9 + 0.25) * r, Math.sin(angle) * r];
  };
  const density = 290;
  const hull = (name: string, on: string, from: number, to: number, left: number): Patch => ({
    ...panel(name, on, [0, 0, 1, 1], (u, v) => skin(from + (to - from) * u, v), { columns: 18, rows: 20 }),
    uv: (u, v) => [left + u * Math.abs(to - from) * density, 424 + v * 1200],
  });
  const fin = quad([-3.2, 3.2, 0], [-4.1, 3.2, 0], [-4.2, 1.7, 0], [-2.7, 1.7, 0]);
  const finStarboard = quad([-4.1, 3.2, 0.03], [-3.2, 3.2, 0.03], [-2.7, 1.7, 0.03], [-4.2, 1.7, 0.03]);
  const wing = (y: number, front: number, back: number) =>
    quad([front, y, -5.2], [front, y, 5.2], [back, y, 5.2], [back, y, -5.2]);
  const float = (z: number) =>
    tube([2.6, 0.1, z], [-2.4, 0.1, z], (t) => 0.34 * Math.sin(Math.PI * (0.12 + 0.8 * t)) ** 0.6);
  const patches = [
    hull('bow skin', 'bow', 3.4, -0.3, 60),
    hull('stern skin', 'stern', -0.3, -4.2, 40),
    panel('fin, port', 'tail', [60, 60, 800, 800], fin),
    panel('fin, starboard', 'tail', [940, 60, 800, 800], finStarboard),
    panel(
      'tailplane, top',
      'tail',
      [60, 1000, 1500, 420],
      quad([-3.2, 1.9, -1.7], [-3.2, 1.9, 1.7], [-4.1, 1.9, 1.7], [-4.1, 1.9, -1.7]),
    ),
    panel(
      'tailplane, under',
      'tail',
      [60, 1500, 1500, 420],
      quad([-4.1, 1.87, -1.7], [-4.1, 1.87, 1.7], [-3.2, 1.87, 1.7], [-3.2, 1.87, -1.7]),
    ),
    panel('wing, top', 'wings', [24, 60, 2000, 460], wing(2.45, 1.3, -0.5), { columns: 8, rows: 2 }),
    panel('wing, under', 'wings', [24, 600, 2000, 460], (u, v) => wing(2.38, 1.3, -0.5)(u, 1 - v), {
      columns: 8,
      rows: 2,
    }),
    // On purpose: both floats wear one island, the port one mirrored.
    panel('float, starboard', 'floats', [60, 60, 1000, 1900], float(1.5), { columns: 14, rows: 12 }),
    panel('float, port (mirrored)', 'floats', [60, 60, 1000, 1900], (u, v) => float(-1.5)(1 - u, v), {
      columns: 14,
      rows: 12,
      inside: true,
    }),
    panel(
      'struts',
      null,
      [0, 0, 1, 1],
      tube([0.6, 0.3, 1.5], [0.4, 2.4, 2.2], () => 0.05),
      { columns: 6, hex: '#5a6268' },
    ),
    panel(
      'struts, port',
      null,
      [0, 0, 1, 1],
      tube([0.6, 0.3, -1.5], [0.4, 2.4, -2.2], () => 0.05),
      { columns: 6, hex: '#5a6268' },
    ),
  ];
  const sheets = [
    sheet('bow', 2048, { ...night, axis: { kind: 'horizontal', at: 1024 } }),
    sheet('stern', 2048, { ...night, axis: { kind: 'horizontal', at: 1024 } }),
    sheet('tail', 2048, { ...night, alpha: 'cutout' }),
    sheet('wings', 2048, { ...night, axis: { kind: 'vertical', at: 1024 } }),
    sheet('floats', 2048, night),
  ];
  const made = makeSubject('whimbrel', 'Whimbrel floatplane', spec, sheets, patches);
  const pieces = proposeRun(made.template, ['bow', 'stern']);
  if (!pieces) throw new Error('The hull of the Whimbrel does not meet.');
  return { ...made, template: { ...made.template, runs: [{ key: 'hull', name: 'Hull', pieces }] } };
}

/** The list that deliveries go into, with two entries of the game's own. */
export const brings = () => ({
  'hangar.list': text(
    [
      'entry 0 {',
      '  title "Works white"',
      '  code "works"',
      '  wrap ""',
      '  registration "NM-000"',
      '  thumbnail ""',
      '}',
      'entry 1 {',
      '  title "Primer"',
      '  code "primer"',
      '  wrap ""',
      '  registration "NM-001"',
      '  thumbnail ""',
      '}',
    ],
    '\r\n',
  ),
});
