import { z } from 'zod';
import { LiverySheet } from '../livery.ts';
import { nothingStored, staysHere, type EditKind } from './kind.ts';
import { sheetIndex } from './places.ts';

const schema = z.strictObject({
  do: z.literal('set-sheet'),
  sheet: z.string(),
  set: LiverySheet.pick({ finish: true, ready: true, kept: true, boxes: true }).partial(),
});
type SetSheet = z.infer<typeof schema>;

export const setSheet: EditKind<SetSheet> = {
  schema,
  apply(livery, edit) {
    const index = sheetIndex(livery, edit.sheet);
    const before = livery.sheets[index];
    const set = Object.fromEntries(
      Object.keys(edit.set).map((key) => [key, before[key as keyof SetSheet['set']] ?? {}]),
    );
    const { boxes, ...whole } = { ...before, ...edit.set };
    const empty = Object.keys(boxes ?? {}).length === 0;
    const sheets = livery.sheets.with(index, empty ? whole : { ...whole, boxes });
    return { livery: { ...livery, sheets }, inverse: { do: 'set-sheet', sheet: edit.sheet, set } };
  },
  stored: nothingStored,
  spread: staysHere,
  reaim: (livery, edit, aim) =>
    livery.sheets.some(({ key }) => key === edit.sheet) ? edit : { ...edit, sheet: aim.sheet },
  reads: (_livery, { sheet, set }) => `Set ${Object.keys(set).join(', ')} of ${sheet}`,
};
