/**
 * Longhaul's loader. `wagons/brock/<key>/wagon.xml` names its model and a material for each part, each material its sheet: BC3, legacy
 * header, all mip levels. One broken link, and that part shows the missing-texture pattern. Plates are read in bay/plates.ts.
 */
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { ddsSheet, notShown } from '../../bay/dds.ts';
import { childrenOf, difference, isNearMiss, whyIgnored } from '../../bay/names.ts';
import { readPlates } from '../../bay/plates.ts';
import { newReport, type BayGame, type GameFolder } from '../../bay/report.ts';

const ROOT = 'wagons/brock/';
const MODEL = 'wagons/brock/brock.mesh';
const PARTS: Readonly<Record<string, number>> = { body: 1024, tracks: 512 };

type Node = Record<string, unknown>;

/** A document's root element; a sentence when it cannot be read. */
function readXml(bytes: Uint8Array, name: string): Node | string {
  const text = new TextDecoder().decode(bytes);
  const valid = XMLValidator.validate(text);
  if (valid !== true) return `line ${valid.err.line} is not XML (${valid.err.msg.replace(/\.$/, '')})`;
  const parser = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseAttributeValue: false,
    trimValues: false,
    isArray: (tag) => tag === 'material' && name === 'wagon',
  });
  const root = (parser.parse(text) as Node)[name];
  return root && typeof root === 'object' ? ((Array.isArray(root) ? root[0] : root) as Node) : `it has no <${name}>`;
}

const attribute = (node: unknown, key: string): string => {
  const value = (node as Node | undefined)?.[key];
  return typeof value === 'string' ? value : '';
};

export const loader: BayGame = {
  key: 'longhaul',
  name: 'Longhaul',
  view: { light: 'Low sun', distance: 1.2, texels: 'mips' },
  list(folder) {
    const ignored: { file: string; why: string }[] = [];
    const keys = childrenOf(folder.keys(), ROOT).filter((name) => {
      const has = folder.has(`${ROOT}${name}/wagon.xml`);
      if (!has) {
        const close = childrenOf(folder.keys(), `${ROOT}${name}/`).find((file) => isNearMiss('wagon.xml', file));
        ignored.push({
          file: ROOT + name,
          why: `Ignored: it has no wagon.xml${close ? `; there is ${close}, but ${difference('wagon.xml', close)}` : ''}.`,
        });
      }
      return has;
    });
    for (const path of folder.keys())
      if (!path.startsWith(ROOT))
        ignored.push({ file: path, why: `Ignored: wagons of this kind lie in ${ROOT}, in lower case.` });
    return { keys, ignored };
  },
  load(folder, key, own = null) {
    const root = `${ROOT}${key}/`;
    const report = newReport(key);
    const used = new Set(['wagon.xml']);
    const wagon = readXml(folder.get(`${root}wagon.xml`) ?? new Uint8Array(), 'wagon');
    const names = childrenOf(folder.keys(), root);
    if (typeof wagon === 'string') {
      report.ignored.push({ file: 'wagon.xml', why: `Ignored: ${wagon}.` });
      for (const part of Object.keys(PARTS))
        report.sheets.push(notShown(part, 'wagon.xml', 'missing', 'wagon.xml cannot be read.'));
      return report;
    }
    report.title = attribute(wagon, 'name') || key;
    if (report.title !== report.title.trim())
      report.ignored.push({ file: 'wagon.xml', why: 'The name has stray spaces.' });
    if (attribute(wagon, 'craft') !== 'brock')
      report.ignored.push({ file: 'wagon.xml', why: `It is for "${attribute(wagon, 'craft')}", not for brock.` });
    const model = attribute(wagon.model, 'file');
    if (model !== MODEL)
      report.ignored.push({
        file: 'wagon.xml',
        why: `Its model is "${model}"; ${isNearMiss(MODEL, model) ? difference(MODEL, model) : `the game has ${MODEL}`}.`,
      });
    report.loaded.push('wagon.xml');
    const materials = (Array.isArray(wagon.material) ? wagon.material : []) as Node[];
    for (const material of materials)
      if (!(attribute(material, 'part') in PARTS))
        report.ignored.push({ file: 'wagon.xml', why: `The wagon has no part "${attribute(material, 'part')}".` });
    for (const [part, side] of Object.entries(PARTS)) {
      const named = materials.filter((one) => attribute(one, 'part') === part);
      if (named.length > 1)
        report.ignored.push({ file: 'wagon.xml', why: `The part ${part} has two materials; the first is read.` });
      if (named.length === 0)
        report.sheets.push(
          notShown(part, 'wagon.xml', 'own', 'wagon.xml gives it no material, so the game shows its own.'),
        );
      else report.sheets.push(sheetOf(folder, root, part, side, attribute(named[0], 'file'), used, names));
    }
    report.loaded.push(...report.sheets.filter((sheet) => sheet.status === 'shown').map((sheet) => sheet.file));
    const plates = attribute(wagon.plates, 'file');
    if (plates === 'plates.json') readPlates(folder, root, names, own, report, used);
    else if (plates !== '')
      report.ignored.push({
        file: 'wagon.xml',
        why: `Its plates are "${plates}"; ${isNearMiss('plates.json', plates) ? difference('plates.json', plates) : 'the game reads plates.json'}.`,
      });
    else report.facts.push({ label: 'plates', value: 'none: wagon.xml names no plates' });
    for (const name of names)
      if (!used.has(name)) report.ignored.push({ file: name, why: whyIgnored(name, [...used]) });
    return report;
  },
};

/** Along the chain wagon, material, sheet; where it breaks is said. */
function sheetOf(
  folder: GameFolder,
  root: string,
  part: string,
  side: number,
  material: string,
  used: Set<string>,
  names: readonly string[],
) {
  const broken = (from: string, name: string) => {
    const close = names.find((one) => isNearMiss(name, one));
    return `${from} → ${name || 'nothing'}: ${close ? `there is ${close}, but ${difference(name, close)}` : 'it is not there'}.`;
  };
  used.add(material);
  const bytes = folder.get(root + material);
  if (!bytes) return notShown(part, material, 'missing', broken('wagon.xml', material));
  const node = readXml(bytes, 'material');
  if (typeof node === 'string') return notShown(part, material, 'missing', `${material}: ${node}.`);
  const file = attribute(node.sheet, 'file');
  used.add(file);
  const sheet = folder.get(root + file);
  if (!sheet) return notShown(part, file, 'missing', broken(`wagon.xml → ${material}`, file));
  return ddsSheet(part, file, sheet, { format: 'BC3', header: 'legacy', width: side, height: side });
}
