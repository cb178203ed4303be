/** Marshkin: a creature of 96 x 48 texels, where every texel counts. */
import { spec } from '../../packages/core/src/games/marshkin/spec.ts';
import { makeSubject, panel, quad, sheet, tube, type Subject } from './subject.ts';

export function subject(): Subject {
  const body = tube([0.3, 0.35, 0], [-0.3, 0.3, 0], (t) => 0.22 * Math.sin(Math.PI * (0.12 + 0.78 * t)));
  const patches = [
    panel('body', 'skin', [0, 0, 48, 24], body, { columns: 16, rows: 8 }),
    panel(
      'face',
      'skin',
      [48, 0, 16, 16],
      quad([0.34, 0.46, -0.12], [0.34, 0.46, 0.12], [0.34, 0.22, 0.12], [0.34, 0.22, -0.12]),
    ),
    panel(
      'lamp',
      'skin',
      [64, 0, 16, 16],
      tube([0.2, 0.62, 0], [0.2, 0.78, 0], (t) => 0.09 * Math.sin(Math.PI * (0.1 + 0.8 * t))),
      { columns: 8, rows: 4 },
    ),
    panel(
      'fin, left',
      'skin',
      [0, 28, 24, 16],
      quad([0.1, 0.3, -0.2], [-0.2, 0.3, -0.2], [-0.2, 0.12, -0.42], [0.1, 0.12, -0.42]),
    ),
    panel(
      'fin, right',
      'skin',
      [28, 28, 24, 16],
      quad([-0.2, 0.3, 0.2], [0.1, 0.3, 0.2], [0.1, 0.12, 0.42], [-0.2, 0.12, 0.42]),
    ),
    panel('tail', 'skin', [56, 24, 32, 16], quad([-0.3, 0.42, 0], [-0.62, 0.5, 0], [-0.62, 0.14, 0], [-0.3, 0.2, 0])),
  ];
  return makeSubject('lampkin', 'Lampkin', spec, [sheet('skin', 96, { height: 48, alpha: 'cutout' })], patches);
}
