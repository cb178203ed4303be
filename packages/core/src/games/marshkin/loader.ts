/**
 * Marshkin's loader. A crate is a zip `crates/<name>.crate` with `pack/<creature>/<skin>/` in it, which holds `label.json` and the skin
 * that it names: PNG, 96 x 48 for the Lampkin. Every name is in lower case.
 */
import { notShown, shownSheet } from '../../bay/dds.ts';
import { whyIgnored } from '../../bay/names.ts';
import { readPng } from '../../bay/pictures.ts';
import { newReport, type BayGame, type Ignored } from '../../bay/report.ts';
import { unpack } from '../../bay/unpack.ts';

const CREATURES: Readonly<Record<string, readonly [width: number, height: number]>> = { lampkin: [96, 48] };

const upper = (name: string) => [...name].findIndex((character) => /[^a-z0-9._/-]/.test(character));

export const loader: BayGame = {
  key: 'marshkin',
  name: 'Marshkin',
  view: { light: 'Low sun', distance: 2.2, texels: 'nearest' },
  list(folder) {
    const keys: string[] = [];
    const ignored: Ignored[] = [];
    for (const [path, bytes] of folder) {
      const name = /^crates\/([^/]+)\.crate$/.exec(path)?.[1];
      const bad = upper(path);
      const files = name && bad < 0 ? unpack(bytes) : null;
      if (bad >= 0)
        ignored.push({
          file: path,
          why: `Ignored: character ${bad + 1} of its name is ${path[bad] === ' ' ? 'a space' : `"${path[bad]}"`}; names are in lower case.`,
        });
      else if (!name) ignored.push({ file: path, why: 'Ignored: crates lie in the folder crates and end in .crate.' });
      else if (typeof files === 'string') ignored.push({ file: path, why: `Ignored: ${files}.` });
      else keys.push(name);
    }
    return { keys: keys.sort(), ignored };
  },
  load(folder, key) {
    const report = newReport(key);
    const bytes = folder.get(`crates/${key}.crate`);
    const files = bytes && unpack(bytes);
    if (!files || typeof files === 'string') return report;
    const refuse = (file: string, why: string) => void report.sheets.push(notShown('skin', file, 'refused', why));
    const names = Object.keys(files).filter((name) => !name.endsWith('/'));
    const label = names.find((name) => /^pack\/[a-z0-9-]+\/[a-z0-9-]+\/label\.json$/.test(name));
    const root = label?.slice(0, -'label.json'.length) ?? '';
    const creature = root.split('/')[1];
    for (const name of names) {
      const bad = upper(name);
      if (bad >= 0)
        report.ignored.push({
          file: name,
          why: `Ignored: character ${bad + 1} of its name is "${name[bad]}"; names are in lower case.`,
        });
      else if (name !== label && name !== `${root}skin.png`)
        report.ignored.push({
          file: name,
          why: whyIgnored(name, label ? [label, `${root}skin.png`] : [`pack/lampkin/${key}/label.json`]),
        });
    }
    if (!label) {
      refuse('label.json', 'No label.json in the skin’s own folder, pack/<creature>/<skin>/.');
      return report;
    }
    let said: Record<string, unknown>;
    try {
      said = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(files[label])) as Record<string, unknown>;
    } catch (error) {
      refuse(label, `label.json is not JSON (${(error as Error).message.slice(0, 60)}).`);
      return report;
    }
    report.loaded.push(label);
    const size = CREATURES[creature];
    const text = (field: string) => (typeof said[field] === 'string' ? said[field] : null);
    if (!size) refuse(label, `The game has no creature "${creature}".`);
    else if (text('creature') !== creature)
      refuse(label, `label.json is for "${String(said.creature)}", and its folder for "${creature}".`);
    else if (!text('label') || text('label') !== text('label')!.trim())
      refuse(label, 'label.json has no label, or one with stray spaces.');
    else {
      report.title = text('label')!;
      report.facts.push({ label: 'by', value: text('by') || 'nobody' });
      const file = root + (text('skin') ?? '');
      const skin = files[file];
      if (!skin || !text('skin'))
        report.sheets.push(
          notShown('skin', file, 'missing', `label.json names "${String(said.skin)}", which is not beside it.`),
        );
      else {
        const read = readPng(skin, { width: size[0], height: size[1] });
        report.sheets.push(
          typeof read === 'string' ? notShown('skin', file, 'refused', read) : shownSheet('skin', file, [read]),
        );
        if (typeof read !== 'string') report.loaded.push(file);
      }
    }
    return report;
  },
};
