/** A drawing on a board of another size. */
import type { Item, Job } from '../job/index.ts';
import { followed } from './begin.ts';

const tidy = (value: number) => Math.round(value * 1e5) / 1e5;

/**
 * The board in another size, mm: what is as it was made for a new piece follows it, what else is drawn stays about its middle. The sign's outline, a plain
 * rectangle, keeps its margins as long as nothing has been typed, and gives way when it would not
 * fit any more; a sign that fits keeps its size.
 */
export function resizedBoard(job: Job, size: { width?: number; height?: number }): Pick<Job, 'board' | 'items'> {
  const board = { ...job.board, ...size };
  const [dw, dh] = [board.width - job.board.width, board.height - job.board.height];
  const fresh = Object.values(job.items).every((item) => item.id === job.outline || (item.kind === 'text' && item.text.trim() === ''));
  const items = Object.fromEntries(
    Object.entries(job.items).map(([id, item]): [string, Item] => {
      const made = followed(job, item, board);
      if (made) return [id, made];
      const moved: Item = { ...item, x: tidy(item.x + dw / 2), y: tidy(item.y + dh / 2) };
      if (id !== job.outline || moved.kind !== 'rectangle' || moved.angle !== 0) return [id, moved];
      const sized = (before: number, was: number, is: number) => {
        const margin = was - before;
        return margin >= 0 && (fresh || before > is) && is > margin ? tidy(is - margin) : before;
      };
      return [id, { ...moved, width: sized(moved.width, job.board.width, board.width), height: sized(moved.height, job.board.height, board.height) }];
    }),
  );
  return { board, items };
}
