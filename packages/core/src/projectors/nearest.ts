/** Numbers, the nearest first. */
export class Nearest {
  private readonly items: number[] = [];
  private readonly fars: number[] = [];

  add(item: number, far: number): void {
    const { items, fars } = this;
    let i = items.length;
    items.push(item);
    fars.push(far);
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (fars[up] <= far) break;
      items[i] = items[up];
      fars[i] = fars[up];
      i = up;
    }
    items[i] = item;
    fars[i] = far;
  }

  /** The nearest, taken out; -1: none is left. One that was added several times comes as often. */
  take(): number {
    const { items, fars } = this;
    if (items.length === 0) return -1;
    const [first] = items;
    const item = items.pop()!;
    const far = fars.pop()!;
    const many = items.length;
    if (many > 0) {
      let i = 0;
      for (;;) {
        let child = i * 2 + 1;
        if (child >= many) break;
        if (child + 1 < many && fars[child + 1] < fars[child]) child++;
        if (fars[child] >= far) break;
        items[i] = items[child];
        fars[i] = fars[child];
        i = child;
      }
      items[i] = item;
      fars[i] = far;
    }
    return first;
  }
}
