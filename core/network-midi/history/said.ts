/** What keeps in which packet it was said. */
export interface Said {
  /** The number of the packet, counted on beyond 65535. */
  packet: number;
}

/** Makes an entry of a map the youngest, and returns it. Maps keep their entries in the order in which they were said. */
export function youngest<Entry>(map: Map<number, Entry>, key: number, make: () => Entry): Entry {
  const entry = map.get(key) ?? make();
  map.delete(key);
  map.set(key, entry);
  return entry;
}
