/** Layers that lean on others: what is left of a build-up when some of it did not come along. */

/** What of a layer says on which others it leans. */
export interface Leaning {
  id: string;
  kind: string;
  group?: string;
  clipped?: boolean;
  mask?: { from: { kind: string; layer?: string } };
}

/**
 * Takes from `present` what cannot be without something that is not there: what is clipped to it (it would be clipped to what is below),
 * what its mask follows, and groups that hold nothing any more.
 * @param all the build-up as it was, first on first
 * @param present ids of those that came along
 */
export function letFall(all: readonly Leaning[], present: Set<string>): void {
  const held = new Map<string, string[]>();
  for (const { id, group } of all) if (group) held.set(group, [...(held.get(group) ?? []), id]);
  const known = new Set(all.map(({ id }) => id));
  for (let before = -1; before !== present.size;) {
    before = present.size;
    const base = new Map<string, boolean>();
    for (const { id, kind, group = '', clipped, mask } of all) {
      if (!clipped) base.set(group, present.has(id));
      const leans = mask?.from.kind === 'layer' ? mask.from.layer : undefined;
      const fallen =
        (clipped && base.get(group) === false) ||
        (leans !== undefined && known.has(leans) && !present.has(leans)) ||
        (kind === 'group' && held.has(id) && !held.get(id)!.some((one) => present.has(one)));
      if (fallen) present.delete(id);
    }
  }
}
