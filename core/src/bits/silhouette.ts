/** The side view of a bit as SVG path data: y downwards, in units of the drawing. */
import { heightAt, radiusAt, shapeOf } from './index.ts';
import type { Bit } from './schema.ts';

const STEPS = 24;

/** Half of the point: pairs of distance from the axis and height above the tip, mm. A drag diamond is drawn as the cone it is. */
function pointOf(bit: Bit): [number, number][] {
  const shape = { ...shapeOf(bit), outer: bit.diameter / 2 };
  return Array.from({ length: STEPS + 1 }, (_, k) => {
    const r = (shape.outer * k) / STEPS;
    return [r, bit.kind === 'drag' ? Math.max(0, r - shape.flat) : heightAt(shape, r)];
  });
}

/** Edges of the flutes, drawn the way they carry the chips: upwards, downwards, both ways, or straight. */
function fluteLines(bit: Bit, cx: number, tip: number, top: number, scale: number): string {
  if (bit.kind !== 'end') return '';
  const r = (bit.diameter / 2) * scale;
  const turn = tip - bit.upLength * scale;
  const lines: string[] = [];
  for (let y = tip; y - 2 * r >= top; y -= 3 * r) {
    const up = bit.spiral === 'up' || (bit.spiral === 'compression' && y > turn);
    if (bit.spiral === 'straight') return `M${cx} ${tip}V${top}`;
    lines.push(up ? `M${cx - r} ${y}L${cx + r} ${y - 2 * r}` : `M${cx + r} ${y}L${cx - r} ${y - 2 * r}`);
  }
  return lines.join('');
}

/** What holds a nozzle or a lens is drawn as wide as this, mm: a sketch, to tell one from the other. */
const BODY = 14;

/** How wide a bit is drawn, mm. */
export const widthDrawn = (bit: Bit): number => (bit.kind === 'nozzle' || bit.kind === 'head' ? BODY : Math.max(bit.diameter, bit.shank));

/** A nozzle with its bore; a head with the beam that narrows to its spot. */
function holder(bit: Bit, cx: number, tip: number, scale: number, roof: number): { cutting: string; shank: string } {
  const x = (mm: number) => (cx + mm * scale).toFixed(2);
  const y = (mm: number) => (tip - mm * scale).toFixed(2);
  const bore = bit.diameter / 2;
  const body = (from: number) => `M${x(-BODY / 2)} ${y(from)}V${roof}H${x(BODY / 2)}V${y(from)}Z`;
  return bit.kind === 'nozzle'
    ? {
        cutting: `M${x(-3)} ${y(0)}H${x(3)}L${x(BODY / 2)} ${y(12)}H${x(-BODY / 2)}ZM${x(-bore)} ${y(0)}V${y(12)}M${x(bore)} ${y(0)}V${y(12)}`,
        shank: body(12),
      }
    : { cutting: `M${x(-bore)} ${y(0)}H${x(bore)}L${x(4)} ${y(22)}H${x(-4)}Z`, shank: body(22) };
}

/** The bit from its tip up to its shank, which goes on to `roof`. */
export function silhouette(bit: Bit, cx: number, tip: number, scale: number, roof: number): { cutting: string; shank: string } {
  if (bit.kind === 'nozzle' || bit.kind === 'head') return holder(bit, cx, tip, scale, roof);
  const side = pointOf(bit);
  const rise = side[side.length - 1][1];
  const flutes = Math.max(roof, tip - Math.max(rise, bit.fluteLength) * scale);
  const at = ([r, z]: [number, number], way: 1 | -1) => `${(cx + way * r * scale).toFixed(2)} ${(tip - z * scale).toFixed(2)}`;
  const left = [...side].reverse().map((p) => at(p, -1));
  const right = side.map((p) => at(p, 1));
  const edge = (bit.diameter / 2) * scale;
  const shank = (bit.shank / 2) * scale;
  return {
    cutting: `M${left.join('L')}L${right.join('L')}V${flutes}H${cx - edge}Z${fluteLines(bit, cx, tip, flutes, scale)}`,
    shank: flutes > roof ? `M${cx - shank} ${flutes}V${roof}H${cx + shank}V${flutes}Z` : '',
  };
}

/** The groove it leaves at a depth: from the surface down one wall, over the bottom and up the other. */
export function groove(bit: Bit, depth: number, cx: number, surface: number, scale: number): string {
  const shape = { ...shapeOf(bit), outer: bit.diameter / 2 };
  const walls = Array.from({ length: STEPS + 1 }, (_, k) => {
    const z = (depth * k) / STEPS;
    return [radiusAt(shape, z) * scale, surface + (depth - z) * scale] as const;
  });
  const left = [...walls].reverse().map(([r, y]) => `${(cx - r).toFixed(2)} ${y.toFixed(2)}`);
  const right = walls.map(([r, y]) => `${(cx + r).toFixed(2)} ${y.toFixed(2)}`);
  return `${left.join('L')}L${right.join('L')}`;
}
