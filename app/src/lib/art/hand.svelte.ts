/** What a person has in hand at the board: the tool, what it is set to, and what it said. */

export type ToolName = 'select' | 'nodes' | 'measure' | 'bit' | 'line' | 'trim' | 'extend' | 'split' | 'bridge' | 'point';

export class BoardHand {
  tool = $state<ToolName>('select');
  /** Distance of the snap grid, mm; 0 for none. */
  grid = $state(0);
  snapping = $state(true);
  /** Width of the circle that follows the pointer: a bit of the job, by id. */
  bit = $state<string | null>(null);
  /** What the point tool is for, and what to do with the point. */
  pointFor = $state.raw<{ what: string; then: (x: number, y: number) => void } | null>(null);
  /** Words that are being typed on the board itself, and where on the screen. */
  typing = $state.raw<{ id: string; at: readonly [number, number] } | null>(null);
  measured = $state.raw<string[]>([]);
  /** The two points that were measured last. */
  span = $state.raw<{ from: [number, number]; to: [number, number] } | null>(null);
}
