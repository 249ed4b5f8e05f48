/**
 * A memory of so many entries: what was written longest ago is forgotten first, so that a flood of
 * new ones frees nobody from what is remembered of them a moment ago.
 */
export class BoundedMap<V> {
  private readonly entries = new Map<string, V>();
  constructor(private readonly most: number) {}

  get(key: string): V | undefined {
    return this.entries.get(key);
  }

  set(key: string, value: V): void {
    this.entries.delete(key);
    for (const old of this.entries.keys()) {
      if (this.entries.size < this.most) break;
      this.entries.delete(old);
    }
    this.entries.set(key, value);
  }
}
