/** The carved board as a binary STL (the de facto layout: 80-byte header, count, 50 bytes a facet). */
import type { HeightMap } from './heightmap.ts';

/** A closed solid: carved top, flat bottom, four sides. Coordinates mm from the board's lower-left corner, bottom at -thickness. */
export function boardStl(map: HeightMap, thickness: number): Uint8Array {
  const { columns: nx, rows: ny, cell, height } = map;
  const vx = nx + 1;
  const vy = ny + 1;
  // A vertex takes the lowest of the cells around it, so that grooves keep their depth.
  const top = new Float32Array(vx * vy);
  for (let j = 0; j < vy; j++)
    for (let i = 0; i < vx; i++) {
      let low = 0;
      for (const [a, b] of [
        [i - 1, j - 1],
        [i, j - 1],
        [i - 1, j],
        [i, j],
      ])
        if (a >= 0 && b >= 0 && a < nx && b < ny) low = Math.min(low, height[b * nx + a]);
      top[j * vx + i] = Math.max(low, -thickness + 1e-3);
    }
  const facets = 4 * nx * ny + 4 * (nx + ny);
  const bytes = new Uint8Array(84 + 50 * facets);
  const view = new DataView(bytes.buffer);
  view.setUint32(80, facets, true);
  let at = 84;
  const put = (...p: number[]) => {
    const ax = p[3] - p[0],
      ay = p[4] - p[1],
      az = p[5] - p[2];
    const bx = p[6] - p[0],
      by = p[7] - p[1],
      bz = p[8] - p[2];
    const nX = ay * bz - az * by,
      nY = az * bx - ax * bz,
      nZ = ax * by - ay * bx;
    const size = Math.hypot(nX, nY, nZ) || 1;
    for (const value of [nX / size, nY / size, nZ / size, ...p]) {
      view.setFloat32(at, value, true);
      at += 4;
    }
    at += 2;
  };
  const z = (i: number, j: number) => top[j * vx + i];
  for (let j = 0; j < ny; j++)
    for (let i = 0; i < nx; i++) {
      const x0 = i * cell,
        x1 = (i + 1) * cell,
        y0 = j * cell,
        y1 = (j + 1) * cell;
      put(x0, y0, z(i, j), x1, y0, z(i + 1, j), x1, y1, z(i + 1, j + 1));
      put(x0, y0, z(i, j), x1, y1, z(i + 1, j + 1), x0, y1, z(i, j + 1));
      put(x0, y0, -thickness, x1, y1, -thickness, x1, y0, -thickness);
      put(x0, y0, -thickness, x0, y1, -thickness, x1, y1, -thickness);
    }
  const side = (xa: number, ya: number, za: number, xb: number, yb: number, zb: number) => {
    put(xa, ya, -thickness, xb, yb, -thickness, xb, yb, zb);
    put(xa, ya, -thickness, xb, yb, zb, xa, ya, za);
  };
  for (let i = 0; i < nx; i++) {
    side(i * cell, 0, z(i, 0), (i + 1) * cell, 0, z(i + 1, 0));
    side((i + 1) * cell, ny * cell, z(i + 1, ny), i * cell, ny * cell, z(i, ny));
  }
  for (let j = 0; j < ny; j++) {
    side(0, (j + 1) * cell, z(0, j + 1), 0, j * cell, z(0, j));
    side(nx * cell, j * cell, z(nx, j), nx * cell, (j + 1) * cell, z(nx, j + 1));
  }
  return bytes;
}
