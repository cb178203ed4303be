import { expect, test } from 'vitest';
import { applyEdit } from '../livery/edit.ts';
import { smallLivery, smallTemplate } from '../testing/scenes.ts';
import type { Finding } from './finding.ts';
import { findingGroups, isGroup } from './findingGroups.ts';

const sheets = ['bow', 'stern', 'tail', 'wings'];
const bare = (sheet: string, more: Partial<Finding> = {}): Finding => ({
  check: 'sheet-bare',
  level: 'advice',
  title: `Sheet ${sheet} is still bare`,
  detail: 'The game keeps its own.',
  show: { sheet },
  fix: { label: 'Leave it to the game on purpose', edit: { do: 'set-sheet', sheet, set: { kept: true } } },
  ...more,
});
const other: Finding = { check: 'sizes', level: 'stop', title: 'Too large', detail: '' };

test('three of a kind and more are one, in their place; two are not, and neither is what differs in weight', () => {
  const many = findingGroups([other, ...sheets.map((sheet) => bare(sheet)), bare('x', { level: 'stop' })]);
  expect(many.map((one) => one.title)).toEqual(['Too large', 'Bare sheets: 4', 'Sheet x is still bare']);
  expect(isGroup(many[1]) && many[1].findings).toHaveLength(4);
  expect(findingGroups([bare('bow'), other, bare('stern')]).map((one) => one.title)).toEqual([
    'Sheet bow is still bare',
    'Too large',
    'Sheet stern is still bare',
  ]);
});

test('what is mended alike is mended as one step, and nothing otherwise', () => {
  const small = smallTemplate();
  const template = { ...small, sheets: sheets.map((key) => ({ ...small.sheets[0], key, name: key })) };
  const [group] = findingGroups(sheets.map((sheet) => bare(sheet)));
  const fix = isGroup(group) ? group.fix : null;
  expect(fix?.label).toBe('Leave it to the game on purpose');
  const livery = smallLivery([], template);
  const { livery: after, inverse } = applyEdit(livery, fix!.edit);
  expect(after.sheets.map(({ kept }) => kept)).toEqual([true, true, true, true]);
  expect(applyEdit(after, inverse).livery).toEqual(livery);
  const [without] = findingGroups([bare('bow'), bare('stern'), bare('tail', { fix: undefined })]);
  expect(isGroup(without) && without.fix).toBeNull();
});

test('what may be overruled stands alone: each is decided for itself', () => {
  const all = findingGroups(sheets.map((sheet) => bare(sheet, { overrule: `bare ${sheet}` })));
  expect(all.some(isGroup)).toBe(false);
});
