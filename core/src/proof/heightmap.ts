/**
 * The surface of a board as heights on a square grid, mm, Z = 0 on top. Cell (i, j) has its
 * centre at ((i + ½)·cell, (j + ½)·cell) from the board's lower-left corner.
 */
export class HeightMap {
  readonly columns: number;
  readonly rows: number;
  readonly cell: number;
  readonly height: Float32Array;

  /** @param cell edge of a cell, mm */
  constructor(width: number, height: number, cell: number) {
    this.columns = Math.max(1, Math.ceil(width / cell - 1e-9));
    this.rows = Math.max(1, Math.ceil(height / cell - 1e-9));
    if (this.columns * this.rows > 400e6) throw new RangeError(`A height map of ${this.columns} × ${this.rows} cells is too large; use a coarser cell.`);
    this.cell = cell;
    this.height = new Float32Array(this.columns * this.rows);
  }

  /** Height of the cell under a point; 0 outside the board. */
  at(x: number, y: number): number {
    const i = Math.floor(x / this.cell);
    const j = Math.floor(y / this.cell);
    if (i < 0 || j < 0 || i >= this.columns || j >= this.rows) return 0;
    return this.height[j * this.columns + i];
  }

  get deepest(): number {
    let low = 0;
    for (const h of this.height) if (h < low) low = h;
    return 0 - low;
  }
}
