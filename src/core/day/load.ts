/** How many places of something are taken, minute by minute: a step function that is asked for room. */
export class Load {
  /** Where each level begins, in order; before the first nothing is taken. */
  private times: number[] = [-1];
  private levels: number[] = [0];

  constructor(private readonly places: number) {}

  private indexAt(time: number): number {
    let [low, high] = [0, this.times.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.times[middle]! <= time) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  /** The first start from a time on with a place for as many minutes; infinite where there is none at all. */
  room(from: number, minutes: number): number {
    if (minutes === 0) return from;
    const { times, levels, places } = this;
    let start = from;
    for (let i = this.indexAt(start); i < times.length && times[i]! < start + minutes; i++)
      if (levels[i]! >= places) start = times[i + 1] ?? Infinity;
    return start;
  }

  private splitAt(time: number): number {
    const i = this.indexAt(time);
    if (this.times[i] === time) return i;
    this.times.splice(i + 1, 0, time);
    this.levels.splice(i + 1, 0, this.levels[i]!);
    return i + 1;
  }

  /** Takes a place, or gives it back (`by` −1). */
  take(from: number, to: number, by: 1 | -1): void {
    if (to <= from) return;
    const first = this.splitAt(from);
    const last = this.splitAt(to);
    for (let i = first; i < last; i++) this.levels[i]! += by;
    // What is level again is one piece again.
    for (const i of [last, first])
      if (this.levels[i] === this.levels[i - 1]) {
        this.times.splice(i, 1);
        this.levels.splice(i, 1);
      }
  }
}
