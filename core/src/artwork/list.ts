/** Lists of plates: one plate for each row, its words filled in from the columns, laid out in a grid on the board. */
import { makeItem, type Item, type Job, type TextItem } from '../job/index.ts';

export interface PlateList {
  /** Names of the columns, and the rows below them. */
  columns: string[];
  rows: string[][];
}

export interface PlateLayout {
  /** Size of a plate and its corner radius, mm. */
  width: number;
  height: number;
  radius: number;
  /** Distance between plates, and of the first from the board's lower-left corner, mm. */
  gap: number;
  margin: number;
  /** Lines of words: a pattern such as `{name}`, its cap height, and how far its middle is above the plate's middle. */
  lines: { pattern: string; capHeight: number; above: number }[];
  face: TextItem['face'];
  /** Holes in the corners, when there are any: diameter and distance of their middles from the edges. */
  hole?: { diameter: number; inset: number };
}

/** The words of a pattern for one row: `{name}` is the column of that name, `{2}` the second one, `{#}` the row's number. */
export const filled = (pattern: string, { columns }: PlateList, row: readonly string[], number: number): string =>
  pattern.replace(/\{([^}]*)\}/g, (_, key: string) => {
    if (key.trim() === '#') return String(number);
    const k = columns.findIndex((column) => column.trim().toLowerCase() === key.trim().toLowerCase());
    return (k >= 0 ? row[k] : row[Number(key) - 1]) ?? '';
  });

/**
 * The plates as drawn things, each plate a group: its edge, its words - made smaller where they
 * would not fit between the margins - and its holes. Row by row from the upper left.
 *
 * @returns the things, and how many plates found no room on the board
 */
export function layPlates(job: Job, list: PlateList, layout: PlateLayout): { items: Item[]; leftOver: number } {
  const { width, height, gap, margin } = layout;
  const across = Math.max(0, Math.floor((job.board.width - 2 * margin + gap) / (width + gap) + 1e-9));
  const down = Math.max(0, Math.floor((job.board.height - 2 * margin + gap) / (height + gap) + 1e-9));
  const rows = list.rows.filter((row) => row.some((cell) => cell.trim() !== ''));
  const items: Item[] = [];
  let n = 1;
  const id = (what: string) => {
    while (job.items[`${what}${n}`]) n++;
    return `${what}${n++}`;
  };
  rows.slice(0, across * down).forEach((row, k) => {
    const x = margin + width / 2 + (k % across) * (width + gap);
    const y = job.board.height - margin - height / 2 - Math.floor(k / across) * (height + gap);
    const group = id('plate');
    const name = row.find((cell) => cell.trim() !== '') ?? '';
    items.push(makeItem({ kind: 'rectangle', id: id('plate-edge-'), name: `Plate ${k + 1}`, x, y, width, height, radius: layout.radius, group }));
    for (const { pattern, capHeight, above } of layout.lines) {
      const text = filled(pattern, list, row, k + 1).trim();
      if (text === '') continue;
      const side = layout.hole ? layout.hole.inset + layout.hole.diameter : 0;
      const fitWidth = Math.max(1, width - 2 * Math.max(2, 0.06 * width, side));
      items.push(
        makeItem({
          kind: 'text',
          id: id('plate-words-'),
          name: text.slice(0, 60) || name,
          x,
          y: y + above,
          text,
          face: layout.face,
          capHeight,
          fitWidth,
          group,
        }),
      );
    }
    if (layout.hole)
      items.push(
        makeItem({
          kind: 'holes',
          id: id('plate-holes-'),
          name: 'Holes',
          x,
          y,
          diameter: layout.hole.diameter,
          layout: { kind: 'corners', width, height, inset: layout.hole.inset },
          group,
        }),
      );
  });
  return { items, leftOver: Math.max(0, rows.length - across * down) };
}
