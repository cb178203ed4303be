/** What a new version of a template changes for those who painted on the old one. */
import { beginningOf, mapsOf, sheetNamed, type Template, type TemplateSheet } from '../livery/template.ts';
import { triangleOnSheet } from './triangles.ts';

export interface TemplateDifference {
  sheet: string | null;
  text: string;
  /** What it means for a livery on the old version. */
  means: string;
  /** Part that moved, for showing it. */
  part?: string;
}

/** A part has moved when one of its corners lies farther from its old place than this, in texels. */
const MOVED = 0.51;

/** Differences in the order of sheets, then parts; none when a livery looks the same on both. */
export function templateDiff(before: Template, after: Template): TemplateDifference[] {
  const out: TemplateDifference[] = [];
  for (const sheet of before.sheets) {
    const now = after.sheets.find((s) => s.key === sheet.key);
    if (!now) {
      out.push({
        sheet: sheet.key,
        text: `${sheet.name} is gone.`,
        means: 'What is painted on it stays in the livery and is not delivered.',
      });
      continue;
    }
    out.push(...sheetDiff(before, sheet, after, now));
  }
  for (const sheet of after.sheets)
    if (!before.sheets.some((s) => s.key === sheet.key))
      out.push({ sheet: sheet.key, text: `${sheet.name} is new.`, means: 'It begins bare, or as the original.' });
  for (const part of before.parts) {
    const now =
      after.parts.find((p) => p.key === part.key) ??
      after.parts.find((p) => p.name === part.name && p.sheet === part.sheet);
    if (!now) {
      const layers = 'Layers that keep to it show nothing until they are given other parts.';
      out.push({ sheet: part.sheet, text: `The part ${part.name} is gone.`, means: layers });
      continue;
    }
    if (now.key === part.key && now.name !== part.name)
      out.push({
        sheet: part.sheet,
        text: `The part ${part.name} is now called ${now.name}.`,
        means: 'Nothing else changes.',
      });
    if (!part.sheet) continue;
    if (now.sheet !== part.sheet) {
      out.push({
        sheet: now.sheet,
        part: now.key,
        text: `${part.name} lies on ${after.sheets.find((s) => s.key === now.sheet)?.name ?? 'no sheet'} now.`,
        means: 'Its art is painted there from now on.',
      });
      continue;
    }
    const far = movedBy(before, part, after, now);
    if (far === null)
      out.push({
        sheet: part.sheet,
        part: now.key,
        text: `${part.name} has another mesh.`,
        means: 'See on the turntable whether its art still fits.',
      });
    else if (far > MOVED)
      out.push({
        sheet: part.sheet,
        part: now.key,
        text: `${part.name} moved on its sheet, by ${Math.round(far)} texels at most.`,
        means: 'Art on it has to be moved with it.',
      });
  }
  for (const part of after.parts)
    if (!before.parts.some((p) => p.key === part.key || (p.name === part.name && p.sheet === part.sheet)))
      out.push({
        sheet: part.sheet,
        part: part.key,
        text: `The part ${part.name} is new.`,
        means: 'Layers can keep to it.',
      });
  if (
    JSON.stringify(before.ownSpec?.files) !== JSON.stringify(after.ownSpec?.files) ||
    before.spec.key !== after.spec.key
  )
    out.push({ sheet: null, text: 'The delivery rules are others.', means: 'Names or formats of files may change.' });
  return out;
}

function sheetDiff(before: Template, sheet: TemplateSheet, after: Template, now: TemplateSheet): TemplateDifference[] {
  const out: TemplateDifference[] = [];
  const add = (text: string, means: string) => out.push({ sheet: sheet.key, text, means });
  if (now.width !== sheet.width || now.height !== sheet.height)
    add(
      `${sheet.name} is ${now.width} x ${now.height} now, not ${sheet.width} x ${sheet.height}.`,
      'Layers stay at their texels.',
    );
  const maps = (s: TemplateSheet) => mapsOf(s).map((map) => map.key);
  for (const map of maps(now))
    if (!maps(sheet).includes(map)) add(`${sheet.name} has a map more: ${map}.`, 'It begins as the original.');
  for (const map of maps(sheet))
    if (!maps(now).includes(map))
      add(`${sheet.name} has no ${map} map any more.`, 'What is painted on it is not delivered.');
  if (JSON.stringify(now.axis) !== JSON.stringify(sheet.axis))
    add(`The symmetry axis of ${sheet.name} is another.`, 'Nothing that is painted moves.');
  if (JSON.stringify(now.cells) !== JSON.stringify(sheet.cells))
    add(`The cells of ${sheet.name} are others.`, 'Nothing that is painted moves.');
  if (JSON.stringify(now.boxes ?? []) !== JSON.stringify(sheet.boxes ?? []))
    add(`The parameter boxes of ${sheet.name} are others.`, 'Colours that you gave to boxes of the same key are kept.');
  if (JSON.stringify(now.followers ?? []) !== JSON.stringify(sheet.followers ?? []))
    add(`Other files follow ${sheet.name}.`, 'They are delivered with it.');
  const begins = (t: Template) =>
    beginningOf(t, sheet.key)
      .map((layer) => ('blob' in layer ? layer.blob : layer.kind))
      .join();
  if (begins(before) !== begins(after))
    add(`The original of ${sheet.name} is another.`, 'The livery keeps the one that it began with.');
  return out;
}

type Part = Template['parts'][number];

/** How far the farthest corner of a part moved, in texels of the old sheet; null: the parts have not the same triangles. */
function movedBy(before: Template, part: Part, after: Template, now: Part): number | null {
  if (part.count !== now.count || part.sheet === null) return null;
  const { width, height } = sheetNamed(before, part.sheet);
  let far = 0;
  for (let k = 0; k < part.count; k++) {
    const a = triangleOnSheet(before.mesh, part.first + k, width, height);
    const b = triangleOnSheet(after.mesh, now.first + k, width, height);
    for (let c = 0; c < 6; c += 2) {
      const [dx, dy] = [a[c] - b[c], a[c + 1] - b[c + 1]];
      far = Math.max(far, Math.sqrt(dx * dx + dy * dy));
    }
  }
  return far;
}
