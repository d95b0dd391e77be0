/** What can be wrong with a program, written or read. */
import { define } from './finding.ts';

export const programFindings = {
  programTooLong: define(
    'program-too-long',
    'error',
    (name: string, bytes: number, memory: number) => ({ data: { name, bytes, memory } }),
    ({ name, bytes, memory }) => [
      `${name} has ${Math.ceil(bytes / 1024)} kB and the controller holds ${Math.floor(memory / 1024)} kB.`,
      'It would be cut off, or not load at all.',
      'Write one program for each bit, arcs instead of lines, or fewer decimals.',
    ],
  ),
  programLine: define(
    'program-line',
    'error',
    (line: number, what: string) => ({ data: { line, what }, line }),
    ({ line, what }) => [
      `Line ${line}: ${what}.`,
      'The machine would stop there, or do something else than meant.',
      'Mend the line, or write the program again from the job.',
    ],
  ),
  programTurns: define(
    'program-turns',
    'warning',
    (line: number, axis: string) => ({ data: { line, axis }, line }),
    ({ line, axis }) => [
      `Line ${line} turns something about ${axis}: Kerbe leaves that out.`,
      'What it reads of this program is only what happens along X, Y and Z.',
      'Run it only on a machine that has this axis, and do not trust its extents here.',
    ],
  ),
  programShifts: define(
    'program-shifts',
    'warning',
    (line: number) => ({ data: { line }, line }),
    ({ line }) => [
      `Line ${line} sets a new origin where the bit stands (G92).`,
      'Everything after it counts from there, and so do its extents.',
      'Look where the bit stands at that line before you run it.',
    ],
  ),
  programRapidInWood: define(
    'program-rapid-in-work',
    'error',
    (line: number, count: number, z: number) => ({ data: { line, count, z }, line }),
    ({ line, count, z }, { len }) => [
      `${count === 1 ? 'A rapid move goes' : `${count} rapid moves go`} below Z0 where nothing was cut yet (line ${line}, Z ${len(z)}).`,
      'At rapid speed the bit breaks or throws the board.',
      'Make it a cutting move, or lift first.',
    ],
  ),
  programSpindleOff: define(
    'program-spindle-off',
    'warning',
    (line: number, count: number) => ({ data: { line, count }, line }),
    ({ line, count }) => [
      `${count === 1 ? 'One move goes' : `${count} moves go`} below Z0 with the spindle standing still (from line ${line}).`,
      'That is right for a drag diamond only; any other bit is pushed into the work and breaks.',
      'Start the spindle (M3) before the first cut.',
    ],
  ),
  programMixedOffsets: define(
    'program-mixed-offsets',
    'warning',
    (line: number, offsets: string) => ({ data: { line, offsets }, line }),
    ({ line, offsets }) => [
      `The program moves in more than one work offset (${offsets}; line ${line}).`,
      'Each has its own zero: set only one, and the rest is cut somewhere else.',
      'Set zero in each of them, or use one.',
    ],
  ),
  ownLine: define(
    'program-own-line',
    'warning',
    (line: string, what: string) => ({ data: { line, what } }),
    ({ line, what }) => [
      `A line of the shop’s own, “${line}”, is not understood: ${what}.`,
      'The machine may take it, or stop there.',
      'Try it at the machine with nothing on the bed, or take it out.',
    ],
  ),
  programNotPlanned: define(
    'program-not-planned',
    'error',
    (name: string, line: number, why: string) => ({ data: { name, line, why }, line }),
    ({ name, line, why }) => [
      `${name}, line ${line}: ${why}.`,
      'The text of the program is not the toolpath that was planned and proved; it is not released.',
      'Look at the lines of the shop’s own; take out what moves, sets modes or turns the spindle.',
    ],
  ),
  ownLineForbidden: define(
    'program-own-line-forbidden',
    'error',
    (line: string, what: string) => ({ data: { line, what } }),
    ({ line, what }) => [
      `A line of the shop’s own, “${line}”, ${what}.`,
      'Moves, modes, zeros and the spindle are the plan’s alone: from a line of the shop’s own they would spoil the board or hurt somebody.',
      'Take it out. Allowed are comments, a wait (G4 P), air and mist (M7, M8, M9), outputs (M62 to M65 with P), clamps (M10, M11) and the shop’s own M100 to M199.',
    ],
  ),
  programUnitsMissing: define(
    'program-no-units',
    'warning',
    () => ({ data: {} }),
    () => [
      'The program does not say whether it is in inches or millimetres (G20 or G21).',
      'Read in the wrong unit everything is 25.4 times too large or too small.',
      'Look at its extents; ask who wrote it; add the word at its start.',
    ],
  ),
  programEndMissing: define(
    'program-no-end',
    'warning',
    () => ({ data: {} }),
    () => ['The program has no end (M2 or M30).', 'It may have been cut short on its way here.', 'Check that the file is whole.'],
  ),
};
