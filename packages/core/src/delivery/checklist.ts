import type { Livery } from '../livery/livery.ts';
import { sha256 } from '../files/sha256.ts';
import { isBare, type DeliveryPlan } from './plan.ts';

/** The SHA-256 of what each drawn file depends on, by the file's name: equal signatures, equal bytes. */
export async function signaturesOf(plan: DeliveryPlan): Promise<ReadonlyMap<string, string>> {
  const drawn = plan.files.filter((file) => file.kind !== 'sidecar');
  const hash = (text: string) => sha256(new TextEncoder().encode(text));
  return new Map(await Promise.all(drawn.map(async (file) => [file.name, await hash(file.signature)] as const)));
}

/** How far a sheet is: bare, in work, ready, delivered and unchanged since, or kept as the original on purpose. */
export type SheetState = 'bare' | 'work' | 'ready' | 'delivered' | 'kept';

/**
 * The checklist's state of one sheet, from facts.
 * @param now signatures of what would be delivered, @param delivered of the last delivery; both by the file's name
 */
export function sheetState(
  livery: Livery,
  sheet: string,
  plan: DeliveryPlan,
  now: ReadonlyMap<string, string>,
  delivered: ReadonlyMap<string, string>,
): SheetState {
  const state = livery.sheets.find((s) => s.key === sheet);
  if (state?.kept) return 'kept';
  if (isBare(livery, sheet)) return 'bare';
  const files = plan.files.filter((file) => file.kind === 'sheet' && file.master.key === sheet && !file.leftOut);
  if (files.length > 0 && files.every(({ name }) => delivered.has(name) && delivered.get(name) === now.get(name)))
    return 'delivered';
  return state?.ready ? 'ready' : 'work';
}
