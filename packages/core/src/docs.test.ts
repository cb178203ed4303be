/** What the papers name is there. */
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { expect, test } from 'vitest';

const root = path.resolve(import.meta.dirname, '../../..');

test.each(['README.md', 'docs/architecture.md', 'docs/adding.md', 'docs/edits.md'])(
  'every file that %s names is there',
  (paper) => {
    const named = [
      ...readFileSync(path.join(root, paper), 'utf8').matchAll(/`((?:packages|docs|scripts|bench)\/[\w./-]+)`/g),
    ];
    expect(named.length).toBeGreaterThan(0);
    expect(named.map(([, name]) => name).filter((name) => !existsSync(path.join(root, name)))).toEqual([]);
  },
);
