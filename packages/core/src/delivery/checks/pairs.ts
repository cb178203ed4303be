import { heldIn } from '../../held.ts';
import { expand, nameFacts } from '../names.ts';
import { slotText } from '../target.ts';
import type { Check, Finding } from '../finding.ts';

export const pairs: Check = {
  key: 'pairs',
  subject: 'files that go out under other names',
  why: 'Put under another’s name, a file must be of the size that the game expects there.',
  run({ spec, plan, livery, template, target }) {
    const facts = nameFacts(livery, template, slotText(spec, target.slot));
    const named = new Map<string, number>();
    for (const { name } of plan.files) named.set(name, (named.get(name) ?? 0) + 1);
    return (spec.pairs ?? []).flatMap(({ file, as }): Finding[] => {
      const [from, to] = [expand(file, facts), expand(as, facts)];
      if (!named.has(to))
        return [
          {
            check: this.key,
            level: 'advice',
            title: `Nothing goes out as ${to}`,
            detail: `The spec says that ${from} does, and no file of this delivery has that name.`,
          },
        ];
      if (heldIn(named, to) > 1)
        return [
          {
            check: this.key,
            level: 'stop',
            title: `Two files would be ${to}`,
            detail: `${from} goes out under that name, and another file has it already.`,
          },
        ];
      const sent = plan.files.find(({ name }) => name === to);
      const other = Object.values(template.originals ?? {}).find(({ name }) => name === to);
      if (sent?.kind !== 'sheet' || !other) return [];
      const { width, height } = sent.level ?? sent.sheet;
      const unlike = [
        (other.stored.width !== width || other.stored.height !== height) &&
          `${width} x ${height}, and the game’s own file of that name is ${other.stored.width} x ${other.stored.height}`,
        other.stored.alpha !== 'none' && sent.spec.alpha === 'opaque' && 'opaque, and that one has alpha',
      ].filter((text): text is string => typeof text === 'string');
      return unlike.length === 0
        ? []
        : [
            {
              check: this.key,
              level: 'advice',
              title: `${from} is unlike what ${to} was`,
              detail: `It is ${unlike.join('; ')}.`,
              show: { sheet: sent.master.key },
            },
          ];
    });
  },
};
