/** docs/adding.md is true: its examples go into a copy of the code, which is then complete, and each does what it says. */
import { cpSync, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { applyPatch, parsePatch, type StructuredPatch } from 'diff';
import ts from 'typescript';
import { afterAll, beforeAll, expect, test } from 'vitest';

const root = path.resolve(import.meta.dirname, '../../..');
const copy = path.join(root, 'test-results/adding');
const paper = readFileSync(path.join(root, 'docs/adding.md'), 'utf8');

interface Example {
  title: string;
  patches: StructuredPatch[];
  proof: string;
}

const examples = paper
  .split(/^## /m)
  .slice(1)
  .map((section): Example => {
    const block = (language: string) =>
      new RegExp(`\`\`\`${language}\\n([\\s\\S]*?)\\n\`\`\``).exec(section)?.[1] ?? '';
    return { title: section.split('\n', 1)[0], patches: parsePatch(block('diff')), proof: block('ts') };
  });

const isNew = ({ oldFileName }: StructuredPatch) => oldFileName === '/dev/null';
const fileOf = ({ newFileName = '' }: StructuredPatch) => newFileName.replace(/^b\//, '');

/** Rows of the table: kind, how many files of its own, how many files with lists. */
const table = [...paper.matchAll(/^\| ([a-z ]+?) +\| (\d) +\| (\d) files? +\|$/gm)].map(([, kind, own, lists]) => ({
  kind,
  own: Number(own),
  lists: Number(lists),
}));

/** Types of everything that ships, against the copies. */
const CONFIG = {
  extends: path.join(root, 'tsconfig.json'),
  compilerOptions: {
    noEmit: true,
    paths: Object.fromEntries(
      ['core', 'sync', 'node'].map((name) => [`@wet-lacquer/${name}/*`, [`./packages/${name}/src/*`]]),
    ),
  },
  include: ['packages/*/src'],
  exclude: ['**/*.test.ts'],
};

/** What the type checker finds, file by file. @param before a program that knows all files that did not change */
function types(before?: ts.Program, only?: string): { program: ts.Program; found: string } {
  const { config } = ts.readConfigFile(path.join(copy, 'tsconfig.json'), (file) => readFileSync(file, 'utf8'));
  const { fileNames, options } = ts.parseJsonConfigFileContent(config, ts.sys, copy);
  const host = ts.createCompilerHost(options);
  const read = host.getSourceFile.bind(host);
  host.getSourceFile = (file, ...more) =>
    (file === only ? undefined : before?.getSourceFile(file)) ?? read(file, ...more);
  const program = ts.createProgram({ rootNames: fileNames, options, host, oldProgram: before });
  const found = only ? program.getSemanticDiagnostics(program.getSourceFile(only)) : ts.getPreEmitDiagnostics(program);
  const said = (one: ts.Diagnostic) =>
    `${path.relative(copy, one.file?.fileName ?? '')}: TS${one.code}: ${ts.flattenDiagnosticMessageText(one.messageText, ' ')}`;
  return { program, found: found.map(said).join('\n') };
}

const put = (patch: StructuredPatch) => {
  const file = path.join(copy, fileOf(patch));
  const next = applyPatch(existsSync(file) ? readFileSync(file, 'utf8') : '', patch, { fuzzFactor: 1 });
  if (next === false) throw new Error(`docs/adding.md does not fit ${fileOf(patch)} any more.`);
  mkdirSync(path.dirname(file), { recursive: true });
  writeFileSync(file, next);
};

beforeAll(() => {
  rmSync(copy, { recursive: true, force: true });
  for (const name of ['core', 'sync', 'node', 'web'])
    cpSync(path.join(root, 'packages', name, 'src'), path.join(copy, 'packages', name, 'src'), {
      recursive: true,
      filter: (file) => !file.endsWith('.test.ts'),
    });
  writeFileSync(path.join(copy, 'tsconfig.json'), JSON.stringify(CONFIG));
  for (const { patches } of examples) patches.forEach(put);
});
afterAll(() => rmSync(copy, { recursive: true, force: true }));

test('every example touches as many files as the table says', () => {
  expect(examples.length).toBe(table.length);
  const counted = examples.map(({ title, patches }) => ({
    kind: title.replace(/^An? /, '').toLowerCase(),
    own: patches.filter(isNew).length,
    lists: patches.filter((patch) => !isNew(patch)).length,
  }));
  const byKind = (a: { kind: string }, b: { kind: string }) => a.kind.localeCompare(b.kind);
  expect(counted.toSorted(byKind)).toEqual(table.toSorted(byKind));
});

test('with all of them the code is complete, the page too; without one line of a list it is not', () => {
  const whole = types();
  expect(whole.found).toBe('');
  const list = path.join(copy, 'packages/core/src/layers/index.ts');
  const lines = readFileSync(list, 'utf8');
  writeFileSync(list, lines.replace(/^ {2}ring,\n/m, ''));
  expect(types(whole.program, list).found).toMatch(/layers\/index\.ts: TS2741: Property 'ring' is missing/);
  writeFileSync(list, lines);
}, 600_000);

test.each(examples.map(({ title, proof }) => [title, proof]))('%s does what it says', async (title, proof) => {
  const file = path.join(copy, `${title.replaceAll(/\W+/g, '-')}.ts`);
  writeFileSync(file, proof);
  await import(file);
});
