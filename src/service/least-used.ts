/** A map that keeps so many: what was asked for longest ago goes. @example new LeastUsed<string>(2) */
export class LeastUsed<T> {
  private readonly kept = new Map<string, T>();
  constructor(private readonly most: number) {}

  get(key: string): T | undefined {
    const known = this.kept.get(key);
    if (known === undefined) return undefined;
    this.kept.delete(key);
    this.kept.set(key, known);
    return known;
  }

  set(key: string, value: T): void {
    this.kept.delete(key);
    if (this.kept.size >= this.most) this.kept.delete(this.kept.keys().next().value!);
    this.kept.set(key, value);
  }

  delete(key: string): void {
    this.kept.delete(key);
  }
}
