/** What every tool on the board is: it hears the pointer and the keys, and paints over the drawing. */
import { Snapper } from '@kerbe/core/artwork/snap';
import type { ArtEditor } from '$lib/art/editor.svelte';
import type { Colours } from '$lib/ui/theme';
import type { BoardView, Point } from '../view';

export interface Press {
  board: Point;
  screen: Point;
  shift: boolean;
  alt: boolean;
}

export interface Bench {
  editor: ArtEditor;
  view: BoardView;
  colours(): Colours;
  /** Paint everything again, or what lies over the drawing only. */
  repaint(): void;
  repaintOver(): void;
  /** Shown instead of where they lie: moved or changed by a matrix on the board, or not at all. */
  lift(ids: ReadonlySet<string> | null, matrix?: readonly [number, number, number, number, number, number]): void;
}

export interface Tool {
  cursor: string;
  down?(press: Press): void;
  move?(press: Press): void;
  up?(press: Press): void;
  double?(press: Press): void;
  /** True when the key was for this tool. */
  key?(event: KeyboardEvent): boolean;
  /** In screen pixels, over the drawing. */
  paint?(context: CanvasRenderingContext2D): void;
  leave?(): void;
}

/** How near the pointer must be to something, pixels; fingers are wider than arrows. */
export const REACH = 9;

/** A snapper of everything drawn but some things. */
export const snapperWithout = ({ editor }: Bench, without: ReadonlySet<string>): Snapper =>
  new Snapper(editor.job, (box) => editor.drawing.marksIn(box, without), editor.hand.grid);
