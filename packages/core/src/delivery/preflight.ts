import { CHECKS } from './checks/index.ts';
import type { CheckInput, Finding } from './finding.ts';

export interface Preflight {
  /** Worst first. */
  findings: Finding[];
  /** Subjects of the checks that found nothing. */
  fine: string[];
  checks: number;
}

/** @param overruled names of findings that stop no longer; see Finding */
export function preflight(input: CheckInput, overruled: readonly string[] = []): Preflight {
  const checks = CHECKS.filter((check) => !check.needsModel || !input.template.boards);
  const results = checks.map((check) => ({
    check,
    found: check.run(input).map((finding) => (isOverruled(finding, overruled) ? letGo(finding) : finding)),
  }));
  // A sheet that is delivered at several sizes has its findings once.
  const seen = new Set<string>();
  const findings = results.flatMap((result) => result.found).filter((finding) => isNew(seen, finding));
  return {
    findings: [...findings.filter((f) => f.level === 'stop'), ...findings.filter((f) => f.level === 'advice')],
    fine: results.filter((result) => result.found.length === 0).map((result) => result.check.subject),
    checks: checks.length,
  };
}

const isOverruled = ({ overrule }: Finding, names: readonly string[]) =>
  overrule !== undefined && names.includes(overrule);

const letGo = (finding: Finding): Finding => ({ ...finding, level: 'advice', overruled: true });

function isNew(seen: Set<string>, { check, title, detail }: Finding): boolean {
  const key = JSON.stringify([check, title, detail]);
  return !seen.has(key) && !!seen.add(key);
}
