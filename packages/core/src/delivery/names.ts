import { InputError } from '../errors.ts';
import { fillIn, type Livery } from '../livery/livery.ts';
import { slugOf } from '../livery/slug.ts';
import type { Template } from '../livery/template.ts';

type Facts = Readonly<Record<string, string>>;

/** What patterns can refer to. */
export function nameFacts(livery: Livery, template: Template, sheet?: string): Facts {
  const facts: Record<string, string> = { 'craft.key': template.key, 'livery.key': livery.particulars.key ?? '' };
  for (const [key, value] of Object.entries(livery.particulars))
    facts[`particulars.${key}`] = fillIn(value, livery.particulars);
  if (sheet) facts['sheet.key'] = sheet;
  return facts;
}

const FILTERS: Readonly<Record<string, (value: string) => string>> = {
  lower: (value) => value.toLowerCase(),
  upper: (value) => value.toUpperCase(),
  slug: slugOf,
};

/** Fills `{name|filter}` in a pattern. @throws InputError when the pattern names something unknown */
export function expand(pattern: string, facts: Facts): string {
  return pattern.replace(/\{([^}|]+)((?:\|[a-z]+)*)\}/g, (_, name: string, filters: string) => {
    if (!(name in facts)) throw new InputError(`The name pattern "${pattern}" asks for "${name}", which is not known.`);
    return filters
      .split('|')
      .filter(Boolean)
      .reduce((value, filter) => {
        if (!FILTERS[filter])
          throw new InputError(`The name pattern "${pattern}" uses the filter "${filter}", which is not known.`);
        return FILTERS[filter](value);
      }, facts[name]);
  });
}
