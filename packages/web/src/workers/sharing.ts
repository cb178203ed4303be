/**
 * What changed from one plain value to the next, when most of it is the same objects: a livery goes to the renderers at every step of
 * a hand, and all but a layer of it is there already. What is the same object here is the same object there, so that what is kept by
 * object (trees, names, fades) stays good.
 */

/** Of an item of a list: a run of the old list's items, an item made of an old one, or a new one. */
type Item = { from: number; count: number } | { of: number; change: Change } | { whole: unknown };

export type Change =
  | { kind: 'same' }
  | { kind: 'whole'; value: unknown }
  | { kind: 'list'; items: Item[] }
  | { kind: 'object'; set: [key: string, change: Change][]; gone: string[] };

type Plain = Record<string, unknown>;

const isPlain = (value: unknown): value is Plain =>
  typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;

const ownOf = (value: Plain, key: string): unknown => (Object.hasOwn(value, key) ? value[key] : undefined);

const nameOf = (value: unknown): unknown => (isPlain(value) ? (value.id ?? value.key) : undefined);

/** What makes `after` of `before`. Items of lists are found by themselves, or by their `id` or `key`. */
export function changeOf(before: unknown, after: unknown): Change {
  if (Object.is(before, after)) return { kind: 'same' };
  if (Array.isArray(before) && Array.isArray(after)) {
    const items = itemsOf(before, after);
    const [first] = items;
    const all = items.length === 1 && 'from' in first && first.from === 0 && first.count === before.length;
    return all || before.length + after.length === 0 ? { kind: 'same' } : { kind: 'list', items };
  }
  if (!isPlain(before) || !isPlain(after)) return { kind: 'whole', value: after };
  const set: [string, Change][] = [];
  for (const [key, value] of Object.entries(after)) {
    const change = changeOf(ownOf(before, key), value);
    if (change.kind !== 'same' || !Object.hasOwn(before, key)) set.push([key, change]);
  }
  const gone = Object.keys(before).filter((key) => !Object.hasOwn(after, key));
  return set.length + gone.length === 0 ? { kind: 'same' } : { kind: 'object', set, gone };
}

function itemsOf(before: readonly unknown[], after: readonly unknown[]): Item[] {
  const items: Item[] = [];
  let places: Map<unknown, number> | null = null;
  /** Objects by themselves and by name; the rest is not worth looking for. */
  const find = (wanted: unknown): number => {
    if (wanted === undefined) return -1;
    if (!places) {
      places = new Map();
      for (let i = before.length - 1; i >= 0; i--) {
        if (typeof before[i] === 'object') places.set(before[i], i);
        const name = nameOf(before[i]);
        if (name !== undefined) places.set(name, i);
      }
    }
    return places.get(wanted) ?? -1;
  };
  for (let i = 0; i < after.length; i++) {
    const value = after[i];
    const last = items[items.length - 1];
    const next = last && 'from' in last ? last.from + last.count : i;
    let from = next < before.length && Object.is(before[next], value) ? next : -1;
    if (from < 0 && typeof value === 'object') from = find(value);
    if (from < 0) {
      const of = find(nameOf(value));
      const change = of >= 0 ? changeOf(before[of], value) : null;
      if (change?.kind !== 'same') {
        items.push(change ? { of, change } : { whole: value });
        continue;
      }
      from = of;
    }
    if (last && 'from' in last && from === next) last.count++;
    else items.push({ from, count: 1 });
  }
  return items;
}

/** Makes the next value of the one before, as changeOf said. */
export function applyChange(before: unknown, change: Change): unknown {
  switch (change.kind) {
    case 'same':
      return before;
    case 'whole':
      return change.value;
    case 'list': {
      const old = before as readonly unknown[];
      return change.items.flatMap((item) =>
        'from' in item
          ? old.slice(item.from, item.from + item.count)
          : ['of' in item ? applyChange(old[item.of], item.change) : item.whole],
      );
    }
    case 'object': {
      const old = before as Plain;
      const gone = new Set(change.gone);
      const kept = Object.entries(old).filter(([key]) => !gone.has(key));
      // By entries, whatever they are called: assigning would take "__proto__" for something else.
      return Object.fromEntries([...kept, ...change.set.map(([key, one]) => [key, applyChange(ownOf(old, key), one)])]);
    }
  }
}
