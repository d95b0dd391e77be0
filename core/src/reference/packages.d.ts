/** Packages that tests use as oracles and that come without typings. */
declare module 'dxf' {
  export class Helper {
    constructor(text: string);
    toPolylines(): unknown;
  }
}
declare module 'jsts/org/locationtech/jts/io/GeoJSONReader.js' {
  export default class {
    read(geojson: unknown): { getArea(): number; getLength(): number; getLength(): number };
  }
}
declare module 'jsts/org/locationtech/jts/operation/overlay/OverlayOp.js' {
  const op: Record<'union' | 'difference' | 'intersection', (a: unknown, b: unknown) => { getArea(): number; getLength(): number; getLength(): number }>;
  export default op;
}
declare module 'jsts/org/locationtech/jts/operation/buffer/BufferOp.js' {
  const op: { bufferOp(geometry: unknown, distance: number, quadrantSegments: number): { getArea(): number; getLength(): number } };
  export default op;
}
declare module 'jsts/org/locationtech/jts/operation/distance/DistanceOp.js' {
  const op: { distance(a: unknown, b: unknown): number };
  export default op;
}
