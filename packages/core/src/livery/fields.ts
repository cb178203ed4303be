/** Names of what is worked out once of a model. */
import { z } from 'zod';
import { FieldName } from './paint.ts';

/** Ways along the surface in a direction: heading 0 to 359, and 90 more than its rise, whole degrees. */
const FLOW = /^flow-(\d{1,3})-(\d{1,3})$/;
const FlowKey = z.custom<`flow-${number}-${number}`>((value) => {
  const found = typeof value === 'string' ? FLOW.exec(value) : null;
  return found !== null && Number(found[1]) < 360 && Number(found[2]) <= 180;
});

export const FieldKey = z.union([FieldName, FlowKey]);
export type FieldKey = z.infer<typeof FieldKey>;

export const isFlow = (key: FieldKey): key is z.infer<typeof FlowKey> => key.startsWith('flow-');

/** @param heading degrees, 0 forward, 90 to starboard; @param rise 90 up: both to the nearest whole degree */
export function flowKey(heading: number, rise: number): FieldKey {
  const down = Math.max(0, Math.min(180, Math.round(rise) + 90));
  // Straight up and down there is no heading.
  const turn = down === 0 || down === 180 ? 0 : ((Math.round(heading) % 360) + 360) % 360;
  return `flow-${turn}-${down}`;
}

export function flowDirection(key: FieldKey): { heading: number; rise: number } {
  const [, heading, down] = FLOW.exec(key)!;
  return { heading: Number(heading), rise: Number(down) - 90 };
}
