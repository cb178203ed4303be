import { ZONE_MAP } from '../../livery/spec.ts';
import { givenZones } from '../plan.ts';
import type { Check } from '../finding.ts';

export const finishZones: Check = {
  key: 'finish-zones',
  subject: 'finishes and the game’s zones',
  why: 'A game knows so many zones of finish, and takes only some surfaces in each; what has no zone of its own looks like another.',
  run({ livery, template, spec, plan }) {
    const zoned = plan.files.some((file) => file.kind === 'sheet' && file.spec.map === ZONE_MAP && !file.leftOut);
    if (!spec.zones || !zoned) return [];
    return givenZones(livery, template, spec).flatMap(({ finish, zone, shares, allowed }) => {
      if (allowed && !shares) return [];
      const instead = `It goes to ${zone.name}${shares ? `, which is ${shares.name}: the nearest that there is` : ''}.`;
      return [
        {
          check: this.key,
          level: 'advice' as const,
          title: allowed
            ? `“${finish.name}” gets no zone of its own`
            : `${spec.gameName} has no zone for “${finish.name}”`,
          detail: allowed
            ? `The zones that take ${finish.kind} are given away. ${instead}`
            : `None of its ${spec.zones!.length} zones takes ${finish.kind}. ${instead}`,
        },
      ];
    });
  },
};
