import { z } from 'zod';
import { Sha256 } from '../ids.ts';
import { MOST } from '../limits.ts';
import { LiverySheet, SpecPin } from '../livery.ts';
import { strokesOf } from '../strokes.ts';
import { staysHere, type EditKind } from './kind.ts';

/**
 * Puts a livery on another version of its template. Sheets and maps that the new one adds come along; those that it lacks stay in the
 * livery, so that nothing is lost when the step is taken back.
 */
const schema = z.strictObject({
  do: z.literal('take-template'),
  template: Sha256,
  spec: SpecPin,
  sheets: z.array(LiverySheet).max(MOST.sheets),
});
type TakeTemplate = z.infer<typeof schema>;

export const takeTemplate: EditKind<TakeTemplate> = {
  schema,
  apply(livery, { template, spec, sheets }) {
    const { pins } = livery;
    const given = new Map(sheets.map((sheet) => [sheet.key, sheet]));
    const kept = livery.sheets.map((sheet) => {
      const more = (given.get(sheet.key)?.maps ?? []).filter((map) => !sheet.maps.some(({ key }) => key === map.key));
      return more.length > 0 ? { ...sheet, maps: [...sheet.maps, ...more] } : sheet;
    });
    const fresh = sheets.filter((sheet) => !livery.sheets.some(({ key }) => key === sheet.key));
    return {
      livery: { ...livery, sheets: [...kept, ...fresh], pins: { ...pins, template, spec } },
      inverse: { do: 'take-template', template: pins.template, spec: pins.spec, sheets: [] },
    };
  },
  stored: ({ sheets }) =>
    sheets.flatMap(({ maps }) => maps.flatMap(({ layers }) => layers.flatMap(strokesOf))).map(({ blob }) => blob),
  spread: staysHere,
  reaim: (_livery, edit) => edit,
  reads: () => 'Take over the new version of the template',
};
