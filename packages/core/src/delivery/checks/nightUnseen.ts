import { lightsOf } from '../../finish/night.ts';
import { isOff } from '../../livery/layer.ts';
import { layersOf } from '../../livery/livery.ts';
import { lightMapsOf } from '../../livery/template.ts';
import type { Check, Finding } from '../finding.ts';

export const nightUnseen: Check = {
  key: 'night-unseen',
  subject: 'what is lit at night',
  why: 'Lit windows show in a map that holds light: where the game takes none, or the night does not follow the day, they are seen here alone.',
  run({ livery, template, spec, plan }) {
    return template.sheets.flatMap((sheet): Finding[] => {
      const lit = lightsOf(livery, sheet.key);
      if (lit.length === 0) return [];
      const lights = new Set(lightMapsOf(sheet).map(({ key }) => key));
      const taken = plan.files.some(
        (file) => file.kind === 'sheet' && file.master.key === sheet.key && lights.has(file.spec.map) && !file.leftOut,
      );
      const layer = layersOf(livery, sheet.key).find((one) => one.lit && !isOff(one));
      const common = { check: this.key, level: 'advice' as const, show: { sheet: sheet.key, layer: layer?.id } };
      if (lights.size > 0 && !livery.night)
        return [
          {
            ...common,
            title: `The night of ${sheet.name} does not follow the day`,
            detail: `“${layer?.name}” is lit, but its night is painted by hand. Let it follow the day, or paint the light there.`,
          },
        ];
      if (!taken)
        return [
          {
            ...common,
            title: `${spec.gameName} does not see what is lit on ${sheet.name}`,
            detail: 'No file of this sheet holds light: by day it looks as ever, at night it is dark.',
          },
        ];
      // As dark as what is about it: nobody sees that it is lit.
      return lit
        .filter((one) => one.lit.paint === undefined && one.lit.strength <= livery.night!.light)
        .map((one): Finding => {
          const dim = layersOf(livery, sheet.key).find(({ id, across }) => (across ?? id) === one.key);
          return {
            ...common,
            title: `“${dim?.name}” is lit no brighter than the night`,
            detail: `Its strength of ${one.lit.strength} % is not above the ${livery.night!.light} % that are left of the day.`,
            show: { sheet: sheet.key, layer: dim?.id },
          };
        });
    });
  },
};
