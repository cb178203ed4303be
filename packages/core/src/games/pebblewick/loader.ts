/**
 * Pebblewick's loader. Skins are `skins/<skin>+<author>+<number>.png`: words joined by hyphens, fields by plus signs, a number of four
 * digits; 1024 x 1024 with alpha. Twelve boxes along the foot are read as settings.
 */
import { notShown, shownSheet } from '../../bay/dds.ts';
import { readPng } from '../../bay/pictures.ts';
import { newReport, type BayGame } from '../../bay/report.ts';
import { drawLevel, settingAt } from '../../bay/level.ts';

const WORDS = '[a-z0-9]+(?:-[a-z0-9]+)*';
const NAME = new RegExp(`^(${WORDS})\\+(${WORDS})\\+([0-9]{4})\\.png$`);
const BOXES = [
  'Sea fog',
  'Lamp glow',
  'Ground litter',
  'Sky, top',
  'Sky, foot',
  'Water, shallow',
  'Water, deep',
  'Foam',
  'Moss',
  'Rain',
  'Shadow',
  'Tint',
];

/** Why a name is passed over, with the first character that is at fault. */
function fault(name: string): string {
  if (!name.endsWith('.png')) return 'its name does not end in .png';
  const stem = name.slice(0, -4);
  const bad = [...stem].findIndex((character) => !/[a-z0-9+-]/.test(character));
  if (bad >= 0) {
    const character = [...stem][bad];
    return `character ${bad + 1} of its name is ${character === ' ' ? 'a space' : `"${character}"`}; lower-case letters, digits, hyphens and plus signs are read`;
  }
  const fields = stem.split('+');
  if (fields.length !== 3)
    return `its name has ${fields.length} ${fields.length === 1 ? 'field' : 'fields'}; skin, author and number are three, joined by plus signs`;
  if (!/^[0-9]{4}$/.test(fields[2])) return `its number is "${fields[2]}"; it has four digits`;
  return 'its words are not joined by single hyphens';
}

export const loader: BayGame = {
  key: 'pebblewick',
  name: 'Pebblewick',
  view: { light: 'Unlit', distance: 1, texels: 'nearest' },
  draw({ sheets }, width) {
    const level = sheets.find(({ status }) => status === 'shown');
    return level ? drawLevel(level, width) : null;
  },
  list(folder) {
    const keys: string[] = [];
    const ignored: { file: string; why: string }[] = [];
    for (const path of folder.keys()) {
      const name = /^skins\/([^/]+)$/.exec(path)?.[1];
      if (name === undefined) ignored.push({ file: path, why: 'Ignored: skins lie in the folder skins, not deeper.' });
      else if (NAME.test(name)) keys.push(name.slice(0, -4));
      else ignored.push({ file: path, why: `Ignored: ${fault(name)}.` });
    }
    return { keys: keys.sort(), ignored };
  },
  load(folder, key) {
    const [, skin, author, number] = NAME.exec(`${key}.png`) ?? [];
    const report = newReport(key, skin?.replaceAll('-', ' '));
    const file = `skins/${key}.png`;
    const bytes = folder.get(file);
    if (!bytes) return report;
    report.facts.push({ label: 'author', value: author.replaceAll('-', ' ') }, { label: 'number', value: number });
    const read = readPng(bytes, { width: 1024, height: 1024 });
    if (typeof read === 'string') report.sheets.push(notShown('level', file, 'refused', read));
    else {
      report.sheets.push(shownSheet('level', file, [read]));
      report.loaded.push(file);
      for (const [i, label] of BOXES.entries()) {
        const [r, g, b, a] = settingAt(read, i);
        const hex = `#${[r, g, b].map((value) => value.toString(16).padStart(2, '0')).join('')}`;
        report.facts.push({ label, value: a === 0 ? 'gone' : `${Math.round((a * 100) / 255)} %`, hex });
      }
    }
    return report;
  },
};
