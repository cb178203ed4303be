/** Two versions on one database: while servers are started again one by one, the earlier one works on tables that the later one has changed. */
import { cpSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type pg from 'pg';
import { expect, test } from 'vitest';
import { freshDatabase } from '../testing/server.ts';
import { bringUpToDate, connect } from './db.ts';

const MIGRATIONS = path.resolve(import.meta.dirname, '../../drizzle');
interface Journal {
  entries: { tag: string }[];
}
const journal = JSON.parse(readFileSync(path.join(MIGRATIONS, 'meta/_journal.json'), 'utf8')) as Journal;

/** The migrations up to a number of them. */
function upTo(count: number): string {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-migrations-'));
  cpSync(MIGRATIONS, folder, { recursive: true });
  const cut = { ...journal, entries: journal.entries.slice(0, count) };
  writeFileSync(path.join(folder, 'meta/_journal.json'), JSON.stringify(cut));
  return folder;
}

interface Column {
  table: string;
  name: string;
  type: string;
  /** Whether a row can be inserted that does not name it. */
  optional: boolean;
}

const columnsOf = async (pool: pg.Pool): Promise<Column[]> =>
  (
    await pool.query<Column>(`
      select table_name as table, column_name as name, udt_name as type,
        is_nullable = 'YES' or column_default is not null as optional
      from information_schema.columns where table_schema = 'public' order by 1, 2`)
  ).rows;

/** What refuses rows: keys, references, checks and unique indices, by table. */
const rulesOf = async (pool: pg.Pool): Promise<{ table: string; rule: string }[]> =>
  (
    await pool.query<{ table: string; rule: string }>(`
      select c.relname as table, pg_get_constraintdef(k.oid) as rule from pg_constraint k
        join pg_class c on c.oid = k.conrelid join pg_namespace n on n.oid = c.relnamespace
        where n.nspname = 'public' and k.contype in ('c', 'f', 'u', 'p', 'x')
      union select tablename, indexdef from pg_indexes where schemaname = 'public' and indexdef like '%UNIQUE%'
      order by 1, 2`)
  ).rows;

/** The first that servers of two versions were meant to live with. */
const FIRST = 5;

test.each(journal.entries.slice(FIRST).map(({ tag }, i) => [tag, FIRST + i] as const))(
  'after %s whatever an earlier version reads is there, and whatever it writes is taken',
  async (_tag, count) => {
    const { pool } = connect(await freshDatabase());
    await bringUpToDate(pool, upTo(count));
    const [columns, rules] = [await columnsOf(pool), await rulesOf(pool)];
    expect(columns.length).toBeGreaterThan(80);
    await bringUpToDate(pool, upTo(count + 1));
    const [now, ruled] = [await columnsOf(pool), await rulesOf(pool)];
    const there = new Map(now.map((column) => [`${column.table}.${column.name}`, column]));
    for (const column of columns) expect(there.get(`${column.table}.${column.name}`)).toEqual(column);
    const tables = new Set(columns.map(({ table }) => table));
    const named = new Set(columns.map(({ table, name }) => `${table}.${name}`));
    const asked = now.filter(
      ({ table, name, optional }) => tables.has(table) && !named.has(`${table}.${name}`) && !optional,
    );
    expect(asked).toEqual([]);
    const known = new Set(rules.map(({ table, rule }) => `${table}: ${rule}`));
    expect(ruled.filter(({ table, rule }) => tables.has(table) && !known.has(`${table}: ${rule}`))).toEqual([]);
    await pool.end();
  },
);
