/** Examples in doc comments do what they say: each is run as it stands. */
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';

const source = import.meta.dirname;
const folder = path.join(source, '../../../test-results/examples');

/** Code under `@example` of a doc comment, its imports relative to the folder of core. */
const examples = readdirSync(source, { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('.ts') && !file.endsWith('.test.ts') && !file.endsWith('.generated.ts'))
  .flatMap((file) => {
    const text = readFileSync(path.join(source, file), 'utf8');
    return [...text.matchAll(/@example\n((?: *\*(?!\/).*\n)+)/g)].map(([, lines]) => ({
      name: `${file}: ${/(?:export (?:async )?(?:function|const) )(\w+)/.exec(text.slice(text.indexOf(lines)))?.[1]}`,
      code: lines.replace(/^ *\* ?/gm, ''),
    }));
  });

beforeAll(() => mkdirSync(folder, { recursive: true }));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('there are some', () => expect(examples.length).toBeGreaterThan(10));

test.each(examples.map(({ name, code }) => [name, code]))('%s', async (name, code) => {
  const file = path.join(folder, `${name.replaceAll(/\W+/g, '-')}.ts`);
  const body = code.replace(/from '\.\//g, `from '${source}/`);
  // The last line is what comes out: `value // what is expected`.
  const shown = body.replace(/^(?!import|const|let)(.+?);? \/\/ (.+)$/gm, 'assert.deepEqual($1, $2);');
  expect(shown).toContain('assert.deepEqual(');
  writeFileSync(file, `import assert from 'node:assert/strict';\n${shown}`);
  await import(file);
});

test('every folder of core has its line', () => {
  const paper = readFileSync(path.join(source, '../README.md'), 'utf8');
  const told = [...paper.matchAll(/^\| `(\w+)` +\|/gm)].map(([, name]) => name);
  const there = readdirSync(source, { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory() ? entry.name : [],
  );
  expect(told).toEqual(there.toSorted());
});
