/** Things that happen at moments, taken out in the order of time; of the same moment, the one put in first. */
export class EventQueue<T> {
  readonly #heap: { at: number; order: number; what: T }[] = [];
  #order = 0;

  get next(): number | null {
    return this.#heap[0]?.at ?? null;
  }

  put(at: number, what: T): void {
    const heap = this.#heap;
    const entry = { at, order: this.#order++, what };
    let index = heap.push(entry) - 1;
    while (index > 0) {
      const parent = (index - 1) >> 1;
      if (!before(entry, heap[parent]!)) break;
      heap[index] = heap[parent]!;
      index = parent;
    }
    heap[index] = entry;
  }

  take(): { at: number; what: T } | undefined {
    const heap = this.#heap;
    const first = heap[0];
    const last = heap.pop();
    if (!first || !last || heap.length === 0) return first;
    let index = 0;
    for (;;) {
      let child = 2 * index + 1;
      if (child >= heap.length) break;
      if (child + 1 < heap.length && before(heap[child + 1]!, heap[child]!)) child++;
      if (!before(heap[child]!, last)) break;
      heap[index] = heap[child]!;
      index = child;
    }
    heap[index] = last;
    return first;
  }
}

function before(a: { at: number; order: number }, b: { at: number; order: number }): boolean {
  return a.at < b.at || (a.at === b.at && a.order < b.order);
}
