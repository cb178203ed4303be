import { baseOf } from '../../paths.ts';
import { folderFaults } from '../folderCheck.ts';
import { originalKey } from '../../livery/template.ts';
import { pathsOf } from '../plan.ts';
import type { Check, Finding } from '../finding.ts';

export const targetFolder: Check = {
  key: 'target-folder',
  subject: 'the game’s folder',
  why: 'What lies where this delivery goes may be another painter’s work, or may have been changed since the last delivery.',
  run({ plan, spec, target, template }) {
    if (!target.names) return [];
    const found: Finding[] = [];
    if (target.closed)
      found.push({
        check: this.key,
        level: 'stop',
        title: 'The game’s folder cannot be written',
        detail: target.closed,
      });
    const advice = (title: string, detail: string): Finding => ({ check: this.key, level: 'advice', title, detail });
    const there = new Set(target.names);
    const { bases } = target;
    const faults = folderFaults(plan, target.delivered, target.changed, target.names);
    for (const { file, says, leftover } of faults)
      found.push(
        advice(
          `${baseOf(file)} ${leftover ? 'is a leftover' : 'is not as it was delivered'}`,
          `${file} ${says}. ${leftover ? 'The game may load it all the same.' : 'This delivery puts it right; what is there is kept before it is written over.'}`,
        ),
      );
    const owned = new Map<string, string[]>();
    for (const name of pathsOf(plan)) {
      const owner = bases.has(name) ? undefined : target.owners.get(name);
      if (owner !== undefined) owned.set(owner, [...(owned.get(owner) ?? []), name]);
    }
    for (const [owner, names] of owned)
      found.push(
        advice(
          `“${owner}” lies where this delivery goes`,
          `That livery delivered ${list(names)}, and this one would write over them. What is there is kept; another key or number for the livery leaves it alone.`,
        ),
      );
    const strangers = pathsOf(plan).filter(
      (name) => there.has(name) && !bases.has(name) && !target.delivered.includes(name) && !target.owners.has(name),
    );
    if (strangers.length > 0)
      found.push(
        advice(
          plan.package ? 'A package of this name is there already' : 'There are files of these names already',
          `This livery did not deliver ${list(strangers)}. What is there is kept before it is written over; another key for the livery leaves it alone.`,
        ),
      );
    for (const file of plan.files) {
      if (file.kind !== 'sheet' || !file.spec.inPlace || file.leftOut) continue;
      const came = template.originals?.[originalKey(file.master.key, file.spec.map)];
      if (!bases.has(plan.folder + file.name) && !came)
        found.push({
          ...advice(
            `${file.name} is not in the game’s folder`,
            `${spec.gameName} keeps several things in it, and only the painted cells are put in: the file has to be there.`,
          ),
          level: 'stop',
        });
    }
    return found;
  },
};

const list = (names: readonly string[]) =>
  names.length > 3 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ');
