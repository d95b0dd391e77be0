/** The board on a simulated machine as it is carved so far, as heights on a grid. */
export interface MachineMap {
  columns: number;
  rows: number;
  /** Edge of a cell, mm. */
  cell: number;
  height: Float32Array;
}

/** Null for a machine that shows none. Throws when it cannot be fetched. */
export async function machineMap(id: string): Promise<MachineMap | null> {
  const response = await fetch(`/api/machines/${id}/map`);
  if (!response.ok) throw new Error('The machine does not show its board just now.');
  const map = (await response.json()) as { columns: number; rows: number; cell: number; data: string } | null;
  if (!map) return null;
  const packed = Uint8Array.from(atob(map.data), (c) => c.charCodeAt(0));
  const stream = new Blob([packed]).stream().pipeThrough(new DecompressionStream('deflate'));
  return { columns: map.columns, rows: map.rows, cell: map.cell, height: new Float32Array(await new Response(stream).arrayBuffer()) };
}
