/** Writes docs/notices.md: every package that ships with the page, the server or the command line, with its licence. `--check` only looks. */
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { root } from './steps.mjs';

const target = path.join(root, 'docs/notices.md');
const OURS = ['core', 'sync', 'node', 'server', 'web', 'cli'].map((name) => `packages/${name}`);
/** Of what says whose a package is, at most so many characters. */
const MOST_WORDS = 160;
/** In a package: the texts that it wants passed on. */
const TEXT = /^(licen[cs]e|copying|notice|ofl)([.-].*)?$/i;

/** Where a package finds one that it names, as Node looks for it. @param all `packages` of package-lock.json */
function found(all, from, name) {
  for (let at = from; ; at = at.slice(0, Math.max(0, at.lastIndexOf('/node_modules/')))) {
    const place = `${at ? `${at}/` : ''}node_modules/${name}`;
    if (all[place]) return place;
    if (!at.includes('/node_modules/')) return all[`node_modules/${name}`] ? `node_modules/${name}` : null;
  }
}

/** What our packages need to run, by where it is installed. */
export function shipped(all) {
  const seen = new Set();
  const waiting = [...OURS];
  while (waiting.length > 0) {
    const at = waiting.pop();
    const { dependencies = {}, optionalDependencies = {} } = all[at].link ? all[all[at].resolved] : all[at];
    for (const name of Object.keys({ ...dependencies, ...optionalDependencies })) {
      const place = found(all, at, name);
      if (!place || all[place].link || seen.has(place)) continue;
      seen.add(place);
      waiting.push(place);
    }
  }
  return [...seen].sort();
}

const licenceOf = ({ license, licenses }) =>
  typeof license === 'string'
    ? license
    : (license?.type ?? licenses?.map(({ type }) => type).join(' or ') ?? 'not said');

/** Its licence in its own words; what is not there is said by name only. */
function textsOf(place) {
  const folder = path.join(root, place);
  return readdirSync(folder)
    .filter((name) => TEXT.test(name) && !/\.(js|json|ts|map)$/.test(name))
    .map((name) => readFileSync(path.join(folder, name), 'utf8').replaceAll('\r\n', '\n').trim());
}

/** A text without the lines that name whose it is, and those lines. */
function apart(text) {
  const lines = text.split('\n');
  const whose = lines.filter(
    (line) =>
      line.trim().length > 16 &&
      !/statement\(s\)/.test(line) &&
      /^\W*(copyright\b(?! notice| holder| owner| license)|\(c\) *\d|©)/i.test(line.trim()),
  );
  return {
    whose: whose.map((line) => line.trim()),
    body: lines
      .filter((line) => !whose.includes(line))
      .join('\n')
      .trim(),
  };
}

export function notices() {
  const all = JSON.parse(readFileSync(path.join(root, 'package-lock.json'), 'utf8')).packages;
  const rows = [];
  const bodies = new Map();
  const places = shipped(all);
  const built = places.filter((place) => all[place].optional);
  for (const place of places) {
    if (built.includes(place)) continue;
    const about = JSON.parse(readFileSync(path.join(root, place, 'package.json'), 'utf8'));
    const name = `${about.name} ${about.version}`;
    const texts = textsOf(place).map(apart);
    const whose = texts.flatMap((text) => text.whose);
    const holders = [...new Set(whose)].join('; ').replaceAll('|', '/');
    const source = about.repository?.url ?? about.repository ?? '';
    rows.push(
      `| ${name} | ${licenceOf(about)} | ${holders.length > MOST_WORDS ? `${holders.slice(0, MOST_WORDS)} …` : holders} | ${source} |`,
    );
    for (const { body } of texts) {
      const key = body.replace(/\s+/g, ' ');
      const known = bodies.get(key) ?? { body, names: [] };
      known.names.push(name);
      bodies.set(key, known);
    }
  }
  const texts = [...bodies.values()].map(({ body, names }) => {
    const fence = body.includes('```') ? '~~~~' : '```';
    return `### ${[...new Set(names)].join(', ')}\n\n${fence}text\n${body}\n${fence}\n`;
  });
  const licences = new Map(built.map((place) => [place.replace(/^.*node_modules\//, ''), all[place].license]));
  const each = [...licences].map(([name, licence]) => `- ${name}: ${licence}`);
  return `# Notices\n\nMade by \`scripts/notices.mjs\`. What ships with Wet Lacquer's page, server and command line, and whose it is.\n\n| package | licence | whose | source |\n| --- | --- | --- | --- |\n${[...new Set(rows)].join('\n')}\n\n## Built for one kind of machine each\n\nOf these, one of a kind is installed; they are replaced by other builds of the same source as packages are. Source of libvips with what it is built of: https://github.com/lovell/sharp-libvips\n\n${each.join('\n')}\n\n## Texts\n\n${texts.join('\n')}`;
}

if (process.argv[1] === import.meta.filename) {
  const made = notices();
  if (!process.argv.includes('--check')) writeFileSync(target, made);
  else if (!existsSync(target) || readFileSync(target, 'utf8') !== made)
    throw new Error('docs/notices.md is not what is installed: run node scripts/notices.mjs.');
}
