import { baseOf } from '../../paths.ts';
import { expand, nearMiss } from '../names.ts';
import { written } from '../plan.ts';
import { gameFacts } from '../target.ts';
import type { Check, Finding } from '../finding.ts';

export const nameRules: Check = {
  key: 'name-rules',
  subject: 'file names',
  why: 'A name off by a single character is silently ignored by most games.',
  run({ plan, spec, livery, template, target }) {
    const { begins = '', ends = '' } = spec.names ?? {};
    const facts = gameFacts(livery, template, spec, target.slot);
    const known = spec.names?.known?.map((name) => expand(name, facts));
    const names = written(plan);
    const stop = (title: string, detail: string, sheet?: string): Finding => ({
      check: this.key,
      level: 'stop',
      title,
      detail,
      ...(sheet && { show: { sheet } }),
    });
    const twice = names.filter((file, i) => names.some((other, k) => k < i && other.name === file.name));
    return [
      ...twice.map((file) => stop(`Two files would be called ${file.name}`, 'One of them would write over the other.')),
      ...names.flatMap((file) => {
        if (file.kind !== 'sheet') return [];
        const base = baseOf(file.name);
        const sheet = file.master.key;
        if (!base.startsWith(begins))
          return [
            stop(
              `${base} does not begin as it must`,
              `${spec.gameName} reads only what begins with "${begins}".`,
              sheet,
            ),
          ];
        if (!base.endsWith(ends))
          return [
            stop(`${base} does not end as it must`, `${spec.gameName} reads only what ends in "${ends}".`, sheet),
          ];
        if (!known || known.includes(base)) return [];
        const near = nearMiss(base, known);
        return [
          stop(
            `${spec.gameName} knows no ${base}`,
            near ? `It knows ${near.known}: ${near.says}.` : 'None of the names that it knows is like it.',
            sheet,
          ),
        ];
      }),
    ];
  },
};
