/**
 * Ferrywarden's Oath's loader. Bales are zips `bales/90-<name>.over.bale` with `bale.json` at their root (archive number 16 to 99, order
 * 90, the files that it replaces) and files under the game's own paths: TGA, 24 bits, and 32 for hair, whose three copies belong together.
 */
import { notShown, shownSheet } from '../../bay/dds.ts';
import { whyIgnored } from '../../bay/names.ts';
import { readTga } from '../../bay/pictures.ts';
import { newReport, type BayGame, type GameFolder, type Ignored } from '../../bay/report.ts';
import { unpack } from '../../bay/unpack.ts';

const ROOT = 'courier/wardrobe/';
const HAIR = ['courier_hair', 'courier_hair_wet', 'courier_hair_mirror'];
/** The game's own files: sheet on the model or a map of it, side, bits. */
const OWN: Readonly<Record<string, readonly [on: string, side: number, bits: 24 | 32]>> = {
  'courier_coat.tga': ['coat', 1024, 24],
  'courier_coat_n.tga': ['coat/normal', 1024, 24],
  'courier_coat_orm.tga': ['coat/packed', 1024, 24],
  'courier_boots.tga': ['boots', 512, 24],
  'courier_boots_n.tga': ['boots/normal', 512, 24],
  'courier_boots_orm.tga': ['boots/packed', 512, 24],
  'courier_hair.tga': ['hair', 512, 32],
  'courier_hair_wet.tga': ['hair/wet', 512, 32],
  'courier_hair_mirror.tga': ['hair/mirror', 512, 32],
  'courier_cloak.tga': ['cloak', 64, 24],
};
const KNOWN = Object.keys(OWN).map((name) => ROOT + name);

interface Bale {
  key: string;
  path: string;
  files: Record<string, Uint8Array>;
  archive: number;
  name: string;
  replaces: string[];
}

function readBales(folder: GameFolder): { bales: Bale[]; ignored: Ignored[] } {
  const ignored: Ignored[] = [];
  const bales: Bale[] = [];
  for (const [path, bytes] of folder) {
    const why = (text: string) => void ignored.push({ file: path, why: `Ignored: ${text}.` });
    const name = /^bales\/([^/]*)$/.exec(path)?.[1];
    if (name === undefined) {
      why('the game looks for bales only in the folder bales');
      continue;
    }
    const key = /^90-(.+)\.over\.bale$/.exec(name)?.[1];
    if (!key) {
      why(
        !name.endsWith('.bale')
          ? 'its name does not end in .bale'
          : !name.startsWith('90-')
            ? 'its name does not begin with 90-, so it comes before the game’s own'
            : 'its name does not end in .over.bale',
      );
      continue;
    }
    const files = unpack(bytes);
    if (typeof files === 'string') {
      why(files);
      continue;
    }
    const said = readManifest(files['bale.json']);
    if (typeof said === 'string') why(said);
    else bales.push({ key, path, files, ...said });
  }
  for (const bale of bales) {
    const other = bales.find((one) => one !== bale && one.archive === bale.archive);
    if (other)
      ignored.push({
        file: bale.path,
        why: `Ignored: ${other.path} has the archive number ${bale.archive} too; the game opens neither.`,
      });
  }
  const alone = bales.filter((bale) => !bales.some((one) => one !== bale && one.archive === bale.archive));
  return { bales: alone, ignored };
}

function readManifest(bytes: Uint8Array | undefined): Pick<Bale, 'archive' | 'name' | 'replaces'> | string {
  if (!bytes) return 'it has no bale.json at its root';
  let json: Record<string, unknown>;
  try {
    json = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes)) as Record<string, unknown>;
  } catch (error) {
    return `bale.json is not JSON (${(error as Error).message.slice(0, 60)})`;
  }
  const { archive, order, name, replaces } = json;
  if (typeof archive !== 'number' || !Number.isInteger(archive)) return 'bale.json has no archive number';
  if (archive < 16) return `its archive number ${archive} is one of the game’s own, 0 to 15`;
  if (archive > 99) return `its archive number ${archive} is above 99`;
  if (order !== 90) return 'its order is not 90';
  if (typeof name !== 'string' || name === '' || name !== name.trim())
    return 'bale.json has no name, or one with stray spaces';
  if (!Array.isArray(replaces) || !replaces.every((one) => typeof one === 'string'))
    return 'bale.json does not list what it replaces';
  return { archive, name, replaces };
}

export const loader: BayGame = {
  key: 'ferrywardens-oath',
  name: 'Ferrywarden’s Oath',
  view: { light: 'Workshop', distance: 1, texels: 'mips' },
  list(folder) {
    const { bales, ignored } = readBales(folder);
    return { keys: bales.map((bale) => bale.key).sort(), ignored };
  },
  load(folder, key) {
    const bale = readBales(folder).bales.find((one) => one.key === key);
    const report = newReport(key, bale?.name);
    if (!bale) return report;
    report.facts.push({ label: 'archive number', value: String(bale.archive) });
    report.loaded.push('bale.json');
    const claimed = new Set(bale.replaces);
    for (const path of claimed)
      if (!KNOWN.includes(path))
        report.ignored.push({ file: path, why: whyIgnored(path, KNOWN).replace('Ignored', 'Replaces nothing') });
    const hair = HAIR.some((stem) => bale.files[`${ROOT}${stem}.tga`]);
    for (const [name, [on, side, bits]] of Object.entries(OWN)) {
      const path = ROOT + name;
      const bytes = bale.files[path];
      const follows = hair && HAIR.includes(name.replace('.tga', ''));
      if (!bytes && (claimed.has(path) || follows)) {
        const why = claimed.has(path)
          ? 'bale.json says that it is replaced, and it is not in the bale.'
          : 'Plain, wet and mirrored hair belong together, and this one is not in the bale.';
        report.sheets.push(notShown(on, path, 'missing', why));
      } else if (bytes && !claimed.has(path))
        report.sheets.push(
          notShown(on, path, 'refused', 'It is in the bale, but bale.json does not say that it is replaced.'),
        );
      else if (bytes) {
        const read = readTga(bytes, { bits, width: side, height: side });
        report.sheets.push(
          typeof read === 'string' ? notShown(on, path, 'refused', read) : shownSheet(on, path, [read]),
        );
        if (typeof read !== 'string') report.loaded.push(path);
      } else if (!on.includes('/') && on !== 'cloak')
        report.sheets.push(
          notShown(on, path, 'own', 'The bale does not replace it, so the game shows its own picture.'),
        );
    }
    for (const path of Object.keys(bale.files)) {
      if (path.endsWith('/') || KNOWN.includes(path) || path === 'bale.json') continue;
      if (/^readme\.txt$/.test(path))
        report.facts.push({ label: 'readme', value: 'for people; the game does not read it' });
      else report.ignored.push({ file: path, why: whyIgnored(path, [...KNOWN, 'bale.json']) });
    }
    return report;
  },
};
