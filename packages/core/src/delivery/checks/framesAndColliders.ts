import { isBare } from '../plan.ts';
import { outlineCover } from '../outlineCover.ts';
import type { Check, Finding } from '../finding.ts';

/** Less than this is the soft rim of art. */
const RIM = 0.005;
/** Art may miss a collider, or reach past it, by so much before anybody in the game notices. */
const MISSED = 0.1;

const percent = (share: number) => `${share < 0.01 ? 'Under 1' : Math.round(share * 100)} %`;

export const framesAndColliders: Check = {
  key: 'frames-and-colliders',
  subject: 'frames and colliders',
  why: 'Art outside its frame is cut off, and where art and collider differ, players stand on nothing or are stopped by it.',
  run({ livery, template, sources }) {
    return template.sheets.flatMap((sheet): Finding[] => {
      if (isBare(livery, sheet.key)) return [];
      const { outside, frames, colliders } = outlineCover(livery, template, sheet.key, sources);
      const found = (title: string, detail: string): Finding => ({
        check: this.key,
        level: 'advice',
        title,
        detail,
        show: { sheet: sheet.key },
      });
      const left = frames.filter((frame) => frame.outside !== null && frame.outside > RIM);
      const cut =
        outside !== null && outside > RIM
          ? [
              found(
                `Art on ${sheet.name} leaves its frames`,
                frames.length > 1 && left.length > 0
                  ? `${left.map((frame) => `${percent(frame.outside!)} of that about ${frame.name}`).join(', ')} lies outside.`
                  : `${percent(outside)} of it lies outside every safe frame.`,
              ),
            ]
          : [];
      const apart = colliders.flatMap(({ name, covered, beyond }) => {
        // Nothing drawn there yet is another matter.
        if (covered < RIM) return [];
        if (covered < 1 - MISSED)
          return [found(`${name} is not filled`, `Art covers ${percent(covered)} of what the game takes for solid.`)];
        if (beyond !== null && beyond > MISSED)
          return [
            found(`Art reaches past ${name}`, `${percent(beyond)} of the art in its frame is not solid in the game.`),
          ];
        return [];
      });
      return [...cut, ...apart];
    });
  },
};
