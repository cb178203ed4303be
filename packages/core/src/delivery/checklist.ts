import type { Livery } from '../livery/livery.ts';
import { isBare, type DeliveryPlan } from './plan.ts';

/** How far a sheet is: bare, in work, ready, delivered and unchanged since, or kept as the original on purpose. */
export type SheetState = 'bare' | 'work' | 'ready' | 'delivered' | 'kept';

/** The checklist's state of one sheet, from facts. @param delivered signatures of the files of the last delivery, by name */
export function sheetState(
  livery: Livery,
  sheet: string,
  plan: DeliveryPlan,
  delivered: ReadonlyMap<string, string>,
): SheetState {
  const state = livery.sheets.find((s) => s.key === sheet);
  if (state?.kept) return 'kept';
  if (isBare(livery, sheet)) return 'bare';
  const files = plan.files.filter((file) => file.kind === 'sheet' && file.sheet.key === sheet);
  const same = (file: (typeof files)[number]) => file.kind === 'sheet' && delivered.get(file.name) === file.signature;
  if (files.length > 0 && files.every(same)) return 'delivered';
  return state?.ready ? 'ready' : 'work';
}
