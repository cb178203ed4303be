/** Lines of what a template says of a sheet beside its islands, as paths of SVG in texels. */
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';

/** The edges of an atlas's cells, on whole texels. */
export function cellsPath(sheet: TemplateSheet, { columns, rows }: { columns: number; rows: number }): string {
  const across = Array.from({ length: columns + 1 }, (_, i) => Math.round((i * sheet.width) / columns));
  const down = Array.from({ length: rows + 1 }, (_, i) => Math.round((i * sheet.height) / rows));
  return [...across.map((x) => `M${x} 0V${sheet.height}`), ...down.map((y) => `M0 ${y}H${sheet.width}`)].join('');
}

export const axisPath = (sheet: TemplateSheet, { kind, at }: NonNullable<TemplateSheet['axis']>): string =>
  kind === 'vertical' ? `M${at} 0V${sheet.height}` : `M0 ${at}H${sheet.width}`;

/** Closed rings: x, y, x, y ... */
export const ringsPath = (rings: readonly (readonly number[])[]): string =>
  rings.map((ring) => `M${ring.map((v, i) => (i === 0 ? v : `${i % 2 ? ' ' : 'L'}${v}`)).join('')}Z`).join('');

export const boxPath = (box: { left: number; top: number; width: number; height: number }): string =>
  `M${box.left} ${box.top}h${box.width}v${box.height}h${-box.width}z`;

/** Cores of guides' lines by what they show. */
export const GUIDE_TONES = {
  axis: '#7fe3d5',
  cells: '#ffd479',
  frame: '#9fd0ff',
  collider: '#ff9d8a',
  boxes: '#d9b8ff',
};
