/** How the subjects of the demo world are put together from patches. */
import type { DeliverySpec } from '../../packages/core/src/livery/spec.ts';
import { Template, type TemplateSheet } from '../../packages/core/src/livery/template.ts';
import type { Drawing } from '../originals.ts';
import { meshOf, type Patch, type Vec } from '../patches.ts';

/** A template, and the drawings of its originals by sheet or `sheet/map`. */
export interface Subject {
  template: Omit<Template, 'begin'>;
  originals: Record<string, Drawing>;
}

export const sheet = (key: string, side: number, more: Partial<TemplateSheet> = {}): TemplateSheet => ({
  key,
  name: key,
  width: side,
  height: side,
  alpha: 'none',
  axis: null,
  ...more,
});

/** @param more further fields of the template; `primer`: what colour parts have as the game ships them, by sheet */
export function makeSubject(
  key: string,
  name: string,
  rules: DeliverySpec,
  sheets: TemplateSheet[],
  patches: Patch[],
  originals: Subject['originals'] = {},
  { primer = {}, ...more }: Partial<Template> & { primer?: Readonly<Record<string, string>> } = {},
): Subject {
  const size = Object.fromEntries(sheets.map((s) => [s.key, [s.width, s.height] as const]));
  const document = {
    schema: 1 as const,
    key,
    name,
    game: rules.game,
    gameName: rules.gameName,
    spec: { key: rules.key, version: rules.version },
    sheets,
    ...meshOf(
      patches.map((patch) => ({ ...patch, hex: patch.hex ?? (patch.sheet && (primer[patch.sheet] ?? null)) })),
      size,
    ),
    ownSpec: rules,
    ...more,
  };
  return { template: Template.parse(document), originals };
}

export type Box = readonly [x: number, y: number, width: number, height: number];

/** A patch whose island fills a box of its sheet. */
export function panel(
  name: string,
  on: string | null,
  box: Box,
  at: Patch['at'],
  more: Partial<Pick<Patch, 'columns' | 'rows' | 'inside' | 'hex'>> & { mirrored?: boolean } = {},
): Patch {
  const { mirrored, ...rest } = more;
  const [x, y, width, height] = box;
  const key = name.replace(/[^a-z0-9]+/gi, '-').toLowerCase();
  const uv: Patch['uv'] = (u, v) => [x + (mirrored ? 1 - u : u) * width, y + v * height];
  return { key, name, sheet: on, hex: null, columns: 1, rows: 1, at, uv, ...rest };
}

/** A flat four-cornered patch: top left, top right, bottom right, bottom left as it is seen from outside. */
export const quad =
  (a: Vec, b: Vec, c: Vec, d: Vec): Patch['at'] =>
  (u, v) =>
    [0, 1, 2].map((k) => (a[k] * (1 - u) + b[k] * u) * (1 - v) + (d[k] * (1 - u) + c[k] * u) * v) as unknown as Vec;

/** What is never painted: lamps, rails, glass. Several of one name are one part. */
export const fitting = (
  name: string,
  hex: string,
  at: Patch['at'],
  columns = 10,
  rows = 6,
  more: { inside?: boolean } = {},
): Patch => ({ ...panel(name, null, [0, 0, 1, 1], at, { columns, rows, hex, ...more }), uv: () => [0, 0] });
