import { derivesOn, finishesWorn } from '../../finish/derived.ts';
import { layersOf } from '../../livery/livery.ts';
import { packedMaps, ZONE_MAP } from '../../livery/spec.ts';
import type { Template } from '../../livery/template.ts';
import type { Check } from '../finding.ts';

/** Whether a map has a channel for anything that a finish says. */
const tells = (template: Template, sheet: string, map: string): boolean =>
  Object.keys(derivesOn(template, sheet, map)?.channels ?? {}).length > 0;

export const finishIgnored: Check = {
  key: 'finish-ignored',
  subject: 'finishes that the game reads',
  why: 'Some games know nothing but colour: gloss and metal that are set for them are seen here, and nowhere else.',
  run({ livery, template, spec, plan }) {
    // Texts can say it, too.
    const inText = spec.sidecars.some(
      ({ making }) => 'text' in making && /\{\{[#^]?(finish|roughness|zones|gloss|metal)/.test(making.text),
    );
    if (inText) return [];
    return template.sheets.flatMap((sheet) => {
      const worn = finishesWorn(livery, sheet.key);
      const files = plan.files.flatMap((file) =>
        file.kind === 'sheet' && file.master.key === sheet.key ? [file] : [],
      );
      if (worn.length === 0 || files.every(({ leftOut }) => leftOut !== null)) return [];
      const told = files.some(({ spec: { map, packed } }) =>
        [map, ...packedMaps(packed)].some((of) => of === ZONE_MAP || tells(template, sheet.key, of)),
      );
      if (told) return [];
      const layer = layersOf(livery, sheet.key).find(({ finish, hidden }) => finish && !hidden);
      return [
        {
          check: this.key,
          level: 'advice' as const,
          title: `${spec.gameName} does not see the finishes of ${sheet.name}`,
          detail: `It takes neither zones nor a map of roughness or metal there: ${worn.map(({ name }) => name).join(', ')} will look like its own.`,
          show: { sheet: sheet.key, layer: layer?.id },
        },
      ];
    });
  },
};
