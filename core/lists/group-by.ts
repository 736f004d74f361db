/** Groups things under a key, keys and things in the order they came (`Map.groupBy`, which Node.js 20 lacks). */
export function groupBy<Key, Thing>(
  things: Iterable<Thing>,
  keyOf: (thing: Thing) => Key,
): Map<Key, Thing[]> {
  const groups = new Map<Key, Thing[]>();
  for (const thing of things) {
    const key = keyOf(thing);
    const group = groups.get(key);
    if (group) group.push(thing);
    else groups.set(key, [thing]);
  }
  return groups;
}
