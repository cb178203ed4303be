/** Findings of one kind as one, where there are many: a list of ten that differ in a name alone hides the eleventh. */
import { capital } from '../capital.ts';
import { singlesOf, type Edit, type SingleEdit } from '../livery/edit.ts';
import { CHECKS } from './checks/index.ts';
import type { Finding } from './finding.ts';

/** From so many on they are one. */
const MANY = 3;

export interface FindingGroup {
  /** "Bare sheets: 4". */
  title: string;
  findings: Finding[];
  /** What mends them all as one step, where each can be mended in the same words. */
  fix: { label: string; edit: Edit } | null;
}

/** In the order in which their first ones stand; what somebody may overrule stands alone. */
export function findingGroups(findings: readonly Finding[]): (Finding | FindingGroup)[] {
  const kindOf = ({ check, level, overrule }: Finding) => (overrule ? null : `${level} ${check}`);
  return findings.flatMap((finding): (Finding | FindingGroup)[] => {
    const kind = kindOf(finding);
    const alike = kind === null ? [finding] : findings.filter((other) => kindOf(other) === kind);
    if (alike.length < MANY) return [finding];
    if (alike[0] !== finding) return [];
    const subject = CHECKS.find(({ key }) => key === finding.check)?.subject ?? finding.check;
    return [{ title: `${capital(subject)}: ${alike.length}`, findings: alike, fix: fixOf(alike) }];
  });
}

export const isGroup = (one: Finding | FindingGroup): one is FindingGroup => 'findings' in one;

function fixOf(alike: readonly Finding[]): FindingGroup['fix'] {
  const fixes = alike.flatMap(({ fix }) => (fix ? [fix] : []));
  const label = fixes[0]?.label;
  if (fixes.length < alike.length || fixes.some((fix) => fix.label !== label)) return null;
  const edits: SingleEdit[] = fixes.flatMap(({ edit }) => [...singlesOf(edit)]);
  return { label, edit: { do: 'together', edits } };
}
