import { baseOf, folderOf } from '../../paths.ts';
import type { Check } from '../finding.ts';
import { expand, nearMiss } from '../names.ts';
import { written, type DeliveryPlan } from '../plan.ts';
import { gameFacts } from '../target.ts';

/** What looks like a file's name in a quoted text. */
const FILE = /["']([^"'\n<>]*\.(?:dds|tga|png|jpe?g|xml|json|toml|mesh|material))["']/gi;

export const references: Check = {
  key: 'references',
  subject: 'references',
  why: 'Thing, material and sheet name each other; where one link leads nowhere the game shows its missing texture.',
  run({ plan, spec, livery, template, target }) {
    const facts = gameFacts(livery, template, spec, target.slot);
    const own = written(plan).flatMap((file) => [plan.folder + file.name, file.name]);
    const there = new Set([
      ...own,
      ...(target.names ?? []),
      ...(spec.gameHas ?? []).map((pattern) => expand(pattern, facts)),
    ]);
    return plan.files.flatMap((file) => {
      if (file.kind !== 'sidecar') return [];
      // What the original's own text refers to was there before.
      const before = new Set([...(file.original ?? '').matchAll(FILE)].map((match) => match[1]));
      const folder = folderOf(file.name);
      return [...file.text.matchAll(FILE)]
        .map((match) => match[1])
        .filter((name) => !before.has(name))
        .filter(
          (name) => ![name, folder + name, plan.folder + name, plan.folder + folder + name].some((at) => there.has(at)),
        )
        .map((name) => {
          const near = nearMiss(name, [...there]);
          const from = chain(plan.files, file.name);
          return {
            check: this.key,
            level: 'stop' as const,
            title: `${baseOf(file.name)} names a file that is not there`,
            detail: `${[...from, name].join(' → ')}: ${near ? `there is ${near.known}; ${near.says}` : 'it is neither in this delivery nor among the game’s own'}.`,
          };
        });
    });
  },
};

/** How one comes to a sidecar from the one that nobody names. */
function chain(files: DeliveryPlan['files'], name: string, seen: string[] = []): string[] {
  const parent = files.find(
    (file) =>
      file.kind === 'sidecar' &&
      file.name !== name &&
      !seen.includes(file.name) &&
      [...file.text.matchAll(FILE)].some((match) => baseOf(match[1]) === baseOf(name)),
  );
  return parent ? [...chain(files, parent.name, [...seen, name]), baseOf(name)] : [baseOf(name)];
}
