/** Steps of any machine around its zero: X and Y at the corner, whether all of it can be right, and the frame. */
import type { Tile } from '../job/tiles.ts';
import { CORNER_NAME, staleZero, type StepInput, type StepList } from './step-list.ts';
import { zeroFaults } from './plausible.ts';

/** What a zero by the marks of a tile is called; nothing for a tile that has none. */
export const seamZero = ({ by, index }: Tile): string | null => (by === 'marks' && index > 0 ? `${SEAM} ${index}` : null);
const SEAM = 'marks on seam';

export function xyStep(list: StepList, { job, jobId, program, machine: { setup }, isToday }: StepInput): void {
  // A tile that is laid by marks has a zero of its own, and what comes after it another.
  const seam = program?.tile ? seamZero(program.tile) : null;
  const corner = CORNER_NAME[job.datum.corner];
  const staleXY = staleZero(setup.zeroXY, jobId, isToday);
  const { zeroXY } = setup;
  const itsCorner = zeroXY?.corner === job.datum.corner;
  const itsTile = zeroXY === null || (seam !== null ? zeroXY.by === seam : !zeroXY.by.startsWith(SEAM));
  list.add(
    'xy',
    seam !== null ? 'Set X and Y by the two marks on the seam' : `Set X and Y at the ${corner}`,
    'seen',
    itsCorner && itsTile && !staleXY,
    !itsTile
      ? seam !== null
        ? 'The sheet was pushed on: zero is where the marks are.'
        : 'Zero was set by the marks of another tile. Set it at the corner of the sheet.'
      : staleXY && itsCorner
        ? staleXY
        : zeroXY && !itsCorner
          ? `Zero was set at the ${CORNER_NAME[zeroXY.corner] ?? zeroXY.corner}, and this program counts from the ${corner}. Set it again.`
          : 'X and Y zero have not been set.',
    { stale: staleXY !== null && itsCorner && itsTile, skip: false },
  );
}

export function placeStep(list: StepList, { job, profile, program, machine: { status, setup } }: StepInput): void {
  if (program?.extents && status && setup.zeroXY && setup.zeroZ) {
    const { extents, tile } = program;
    const faults = zeroFaults({ job, profile, extents, tile, setup, offset: status.offset, there: status.world?.board ?? null });
    // Another zero, another question.
    const key = `${program.sha256} ${status.offset.map((v) => v.toFixed(2)).join(' ')} ${setup.bed.x} ${setup.bed.y}`;
    list.add('place', 'Zero, board and bed agree', 'seen', faults.length === 0, faults.join(' '), { key, skip: true });
  }
}

export function frameStep(list: StepList, { program, machine: { setup } }: StepInput, title: string): void {
  list.add('frame', title, 'seen', program !== null && setup.framed === program.sha256, 'The frame of this program has not been driven since zero was set.', {
    skip: true,
  });
}
