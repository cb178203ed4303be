/**
 * Ninth Meridian's loader. `hangar.list` counts its wraps from 0 without a gap; each names a folder `wraps/<code>/` with
 * `<code>_<sheet>.dds`: BC3, legacy header, 2048, all mip levels, stored upside down, and `<code>_<sheet>_night.dds` where it is lit.
 */
import { ddsSheet, notShown } from '../../bay/dds.ts';
import { whyIgnored } from '../../bay/names.ts';
import { jpegSize } from '../../bay/pictures.ts';
import { newReport, type BayGame, type GameFolder, type Ignored } from '../../bay/report.ts';

const SHEETS = ['bow', 'stern', 'tail', 'wings', 'floats'];
const FIELDS = ['title', 'code', 'wrap', 'registration', 'thumbnail'] as const;
type Entry = Record<(typeof FIELDS)[number], string> & { number: number };

/** The list as the game reads it: at the first line that it does not understand it stops. */
function readList(folder: GameFolder): { entries: Entry[]; ignored: Ignored[] } {
  const bytes = folder.get('hangar.list');
  const stop = (entries: Entry[], why: string) => ({ entries, ignored: [{ file: 'hangar.list', why }] });
  if (!bytes) return stop([], 'Not there: the game knows no wraps without its list.');
  const lines = new TextDecoder().decode(bytes).split(/\r?\n/);
  if (lines.at(-1) === '') lines.pop();
  const entries: Entry[] = [];
  let now: Partial<Entry> | null = null;
  for (const [i, line] of lines.entries()) {
    const at = `Line ${i + 1}`;
    if (/\s$/.test(line)) return stop(entries, `${at} ends with a stray space; the game reads no further.`);
    const head = /^entry (\d+) \{$/.exec(line);
    if (!now) {
      if (!head)
        return stop(entries, `${at}, "${line.slice(0, 40)}", does not begin an entry; the game reads no further.`);
      if (Number(head[1]) !== entries.length)
        return stop(entries, `${at} is entry ${head[1]} where ${entries.length} is next; the game reads no further.`);
      now = { number: entries.length };
    } else if (line === '}') {
      const lacks = FIELDS.find((field) => now![field] === undefined);
      if (lacks) return stop(entries, `Entry ${entries.length} has no ${lacks}; the game reads no further.`);
      entries.push(now as Entry);
      now = null;
    } else {
      const [, field, value] = /^ {2}([a-z]+) "([^"]*)"$/.exec(line) ?? [];
      const known = FIELDS.find((one) => one === field);
      if (!known || now[known] !== undefined)
        return stop(entries, `${at}, "${line.trim().slice(0, 40)}", is not understood; the game reads no further.`);
      if (value !== value.trim())
        return stop(entries, `${at} has a stray space inside its quotes; the game reads no further.`);
      now[known] = value;
    }
  }
  return now ? stop(entries, 'The last entry does not end; the game leaves it out.') : { entries, ignored: [] };
}

export const loader: BayGame = {
  key: 'ninth-meridian',
  name: 'Ninth Meridian',
  view: { light: 'Overcast', distance: 1.6, texels: 'mips' },
  list(folder) {
    const { entries, ignored } = readList(folder);
    const codes = entries.filter((entry) => entry.wrap !== '').map((entry) => entry.code);
    const listed = new Set(entries.map((entry) => entry.wrap));
    const roots = new Set([...folder.keys()].map((path) => /^wraps\/[^/]+\//i.exec(path)?.[0]).filter((one) => !!one));
    for (const root of roots)
      if (!listed.has(root!)) ignored.push({ file: root!, why: 'Ignored: no entry of hangar.list names this folder.' });
    return { keys: [...new Set(codes)], ignored };
  },
  load(folder, key) {
    const entries = readList(folder).entries.filter((entry) => entry.code === key);
    const entry = entries[0];
    const report = newReport(key, entry?.title);
    if (!entry) return report;
    if (entries.length > 1)
      report.ignored.push({ file: 'hangar.list', why: `Two entries have the code ${key}; the first is read.` });
    report.facts.push(
      { label: 'entry', value: String(entry.number) },
      { label: 'registration', value: entry.registration || 'none' },
    );
    report.loaded.push('hangar.list');
    const root = entry.wrap;
    if (root !== `wraps/${key}/`)
      report.ignored.push({
        file: 'hangar.list',
        why: `Its wrap is "${root}", and the code ${key} belongs to wraps/${key}/.`,
      });
    const names = [...folder.keys()].filter((path) => path.startsWith(root)).map((path) => path.slice(root.length));
    const expected = [
      ...SHEETS.flatMap((sheet) => [`${key}_${sheet}.dds`, `${key}_${sheet}_night.dds`]),
      'thumbnail.jpg',
    ];
    const want = { format: 'BC3', header: 'legacy', width: 2048, height: 2048, upsideDown: true } as const;
    for (const sheet of SHEETS) {
      for (const [name, on] of [
        [`${key}_${sheet}.dds`, sheet],
        [`${key}_${sheet}_night.dds`, `${sheet}/night`],
      ]) {
        const bytes = folder.get(root + name);
        if (bytes) report.sheets.push(ddsSheet(on, name, bytes, want));
        else if (on === sheet)
          report.sheets.push(
            notShown(on, name, 'own', 'No such file in the wrap’s folder, so the game shows its own picture.'),
          );
      }
    }
    const small = folder.get(entry.thumbnail);
    const size = small && jpegSize(small);
    if (!size)
      report.ignored.push({
        file: entry.thumbnail || 'thumbnail',
        why: small ? 'It is not a JPEG; the list shows no picture.' : 'Not there: the list shows no picture.',
      });
    else if (size.width !== 320 || size.height !== 180)
      report.ignored.push({
        file: entry.thumbnail,
        why: `It is ${size.width} x ${size.height}; the list shows 320 x 180 only.`,
      });
    else report.loaded.push(entry.thumbnail);
    report.loaded.push(...report.sheets.filter((sheet) => sheet.status === 'shown').map((sheet) => root + sheet.file));
    for (const name of names)
      if (!expected.includes(name)) report.ignored.push({ file: root + name, why: whyIgnored(name, expected) });
    return report;
  },
};
