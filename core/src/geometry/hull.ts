/** Convex hull, counter-clockwise, without points along its sides. (Andrew's monotone chain.) */
export function hullOf(points: readonly (readonly [number, number])[]): (readonly [number, number])[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (list: readonly (readonly [number, number])[]) => {
    const out: (readonly [number, number])[] = [];
    for (const p of list) {
      while (out.length > 1) {
        const [a, b] = [out.at(-2)!, out.at(-1)!];
        if ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 1e-9) break;
        out.pop();
      }
      out.push(p);
    }
    return out.slice(0, -1);
  };
  return [...half(sorted), ...half([...sorted].reverse())];
}
