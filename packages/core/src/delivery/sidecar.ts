import { stringify } from 'smol-toml';
import type { Finish, Livery } from '../livery/livery.ts';
import { fillIn } from '../livery/livery.ts';
import type { Template } from '../livery/template.ts';

/** Material values of each finish: roughness and metal, 0..1. */
export const FINISH_VALUES: Readonly<Record<Finish, { roughness: number; metal: number }>> = {
  gloss: { roughness: 0.12, metal: 0 },
  satin: { roughness: 0.38, metal: 0 },
  matt: { roughness: 0.82, metal: 0 },
  metallic: { roughness: 0.3, metal: 0.6 },
  chrome: { roughness: 0.05, metal: 1 },
  rubber: { roughness: 0.95, metal: 0 },
};

/** finish.toml: who the livery is, and one zone with its material values for each sheet that is delivered. */
export function finishToml(livery: Livery, template: Template, sheets: readonly string[]): string {
  const particular = (key: string) => fillIn(livery.particulars[key] ?? '', livery.particulars);
  const zones = sheets.map((sheet) => {
    const finish = livery.sheets.find((s) => s.key === sheet)?.finish ?? 'gloss';
    return { sheet, kind: finish, ...FINISH_VALUES[finish] };
  });
  const text = stringify({
    livery: { key: particular('key'), name: particular('name'), number: particular('number'), craft: template.key },
    zone: zones,
  });
  return text.trimEnd() + '\n';
}
