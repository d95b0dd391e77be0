/**
 * What a whole program does that would spoil a board or break a bit, told from its rows: rapids into the
 * work, cuts with the spindle standing still, more than one zero. Z0 is taken for the top of the board, as
 * a program that says nothing else is meant.
 */
import { finding, type Finding } from '../findings/index.ts';
import { OFFSET_WORDS, OP, type Program } from './read.ts';

/** Below Z0 by less than this is rounding, mm. */
const HAIR = 1e-3;

/** A place on the bed to a thousandth of a millimetre, as one number. */
const placeOf = (x: number, y: number): number => (Math.round(x * 1000) + 2 ** 25) * 2 ** 26 + Math.round(y * 1000) + 2 ** 25;

export function judgeProgram(program: Program): Finding[] {
  const { kind, x, y, z, value, machine, line } = program;
  const found: Finding[] = [];
  const rapids = { count: 0, line: 0, z: 0 };
  const still = { count: 0, line: 0 };
  const offsets = new Set<number>();
  let offset = 1;
  let mixedAt = 0;
  let speed = 0;
  let [px, py, pz] = [NaN, NaN, NaN];
  // How deep it was cut at every place the bit came to: down there it may go rapidly again.
  const cut = new Map<number, number>();
  for (let i = 0; i < kind.length; i++) {
    if (kind[i] === OP.SPINDLE) speed = value[i];
    else if (kind[i] === OP.OFFSET) offset = value[i];
    else if (kind[i] === OP.HOME) [px, py, pz] = [NaN, NaN, NaN];
    if (kind[i] > OP.FEED) continue;
    if (machine[i]) {
      if (!Number.isNaN(x[i])) px = NaN;
      if (!Number.isNaN(y[i])) py = NaN;
      if (!Number.isNaN(z[i])) pz = NaN;
      continue;
    }
    if (!offsets.has(offset)) {
      offsets.add(offset);
      if (offsets.size === 2) mixedAt = line[i];
    }
    const across = x[i] !== px || y[i] !== py;
    if (kind[i] === OP.FEED) {
      if (z[i] < -HAIR || pz < -HAIR) {
        if (speed === 0 && still.count++ === 0) still.line = line[i];
        const at = placeOf(x[i], y[i]);
        cut.set(at, Math.min(z[i], cut.get(at) ?? Infinity));
      }
    } else if (Math.min(z[i], across ? pz : z[i]) < -HAIR && (across || z[i] < pz || Number.isNaN(pz))) {
      const known = !across && z[i] > (cut.get(placeOf(x[i], y[i])) ?? Infinity) - HAIR;
      if (!known && rapids.count++ === 0) [rapids.line, rapids.z] = [line[i], z[i]];
    }
    [px, py, pz] = [x[i], y[i], z[i]];
  }
  if (rapids.count > 0) found.push(finding.programRapidInWood(rapids.line, rapids.count, rapids.z));
  if (still.count > 0) found.push(finding.programSpindleOff(still.line, still.count));
  if (mixedAt > 0) found.push(finding.programMixedOffsets(mixedAt, [...offsets].map((k) => OFFSET_WORDS[k - 1]).join(', ')));
  return found;
}
