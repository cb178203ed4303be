/** What is held: lookups of what must be there (where it is not, the mistake is ours, and it is said what is missing), and maps that hold no more than they should. */

/** What a map holds under a key. @throws Error that names the key */
export function heldIn<K, V>(map: { get(key: K): V | undefined }, key: K): V {
  const value = map.get(key);
  if (value === undefined) throw new Error(`Nothing is held under "${String(key)}".`);
  return value;
}

/** Holds something as the latest of a map's; of more than `most`, what was held longest ago goes. */
export function holdLatest<K, V>(map: Map<K, V>, key: K, value: V, most: number): void {
  map.delete(key);
  map.set(key, value);
  const [oldest] = map.keys();
  if (map.size > most) map.delete(oldest);
}

/** The last of a list. @throws Error when it is empty */
export function lastOf<T>(list: readonly T[]): T {
  if (list.length === 0) throw new Error('An empty list has no last one.');
  return list[list.length - 1];
}
