/** What can be wrong with what a laser does. */
import { define } from './finding.ts';

export const laserFindings = {
  forbiddenSheet: define(
    'laser-forbidden-sheet',
    'error',
    (material: string, gives: string) => ({ data: { material, gives } }),
    ({ material, gives }) => [
      `${material} must never meet a laser: ${gives}.`,
      'It harms whoever breathes it, and the machine.',
      'Take another material, or cut this one on the router. What the maker of the sheet says decides.',
    ],
  ),
  pictureUnsized: define(
    'laser-picture-unsized',
    'warning',
    (picture: string, width: number, item: string) => ({ data: { picture, width }, item }),
    ({ picture, width }, { len }) => [
      `${picture} states no size: ${len(width)} wide is only what was proposed.`,
      'Burned at another size than is meant, a sheet is spoiled.',
      'Type the width it is to have, or its dots per inch. If it is right as it is, tick this when the job is released.',
    ],
  ),
  finerThanSpot: define(
    'laser-finer-than-spot',
    'warning',
    (cut: string, apart: number, spot: number) => ({ data: { apart, spot }, cut }),
    ({ apart, spot }, { len }) => [
      `Lines ${len(apart)} apart are finer than the spot of ${len(spot)}.`,
      'Nothing gets sharper by it: every place is burned several times, and the time grows.',
      'Take fewer lines, or a lens with a finer spot.',
    ],
  ),
  tooSmallToBurn: define(
    'laser-too-small',
    'warning',
    (cut: string, share: number, spot: number) => ({ data: { share, spot }, cut }),
    ({ share, spot }, { len }) => [
      `${share < 0.995 ? `About ${Math.max(1, Math.round(100 * share))} %` : 'All'} of what is filled is in strokes narrower than the spot of ${len(spot)}.`,
      'They burn as wide as the spot: small letters run into each other.',
      'Draw it larger, take a heavier face or a single-line one, or a lens with a finer spot.',
    ],
  ),
  focusBelowSheet: define(
    'laser-focus-below-sheet',
    'warning',
    (cut: string, below: number, passes: number) => ({ data: { below, passes }, cut }),
    ({ below, passes }, { len }) => [
      `The focus ends ${len(below)} below the sheet${passes > 1 ? ' in the last pass' : ''}.`,
      'There it heats the bed and not the cut.',
      'Step the focus down less, make fewer passes, or put in how thick the sheet is.',
    ],
  ),
  beamKerfTooWide: define(
    'laser-kerf-too-wide',
    'error',
    (cut: string, count: number, kerf: number) => ({ data: { count, kerf }, cut }),
    ({ count, kerf }, { len }) => [
      `The kerf of ${len(kerf)} does not fit into ${count === 1 ? 'one opening' : `${count} openings`}.`,
      'They would be left out of the program.',
      'Cut them on the line, or draw them larger.',
    ],
  ),
  beamNotThrough: define(
    'laser-not-through',
    'warning',
    (cut: string, share: number, material: string, thickness: number) => ({ data: { share, material, thickness }, cut }),
    ({ share, material, thickness }, { len }) => [
      `This cut lays ${share < 0.1 ? 'less than a tenth' : `about ${Math.round(100 * share)} %`} of the energy that ${len(thickness)} of ${material} take.`,
      'The part stays in the sheet, and a second run beside it chars the edge.',
      'Go slower, or make more passes. How a sheet takes it is from memory: a test card decides.',
    ],
  ),
  beamThinWeb: define(
    'laser-thin-web',
    'warning',
    (cut: string, count: number, thickness: number, at: [number, number]) => ({ data: { count, thickness }, cut, at }),
    ({ count, thickness }, { len }) => [
      `${count === 1 ? 'A strip' : `${count} strips`} between cuts ${count === 1 ? 'is' : 'are'} narrower than the sheet is thick (${len(thickness)}).`,
      'So much heat in so little material chars it, melts it or breaks it off.',
      'Move the hole away from the edge, or make the strip wider.',
    ],
  ),
  hotCorners: define(
    'laser-hot-corners',
    'note',
    (cut: string, count: number, times: number, at: [number, number]) => ({ data: { count, times }, cut, at }),
    ({ count, times }) => [
      `${count === 1 ? 'A corner takes' : `${count} corners take`} up to ${times.toFixed(1)} times the energy of ${count === 1 ? 'its' : 'their'} line: the carriage slows down there, and the power is constant.`,
      'Corners char, and thin sheets burn away there.',
      'Go slower with less power, or round the corners.',
    ],
  ),
  looseParts: define(
    'laser-loose-parts',
    'note',
    (cut: string, count: number, at: [number, number]) => ({ data: { count }, cut, at }),
    ({ count }) => [
      `${count === 1 ? 'A part is' : `${count} parts are`} so small that the air may blow ${count === 1 ? 'it' : 'them'} away, or ${count === 1 ? 'it falls' : 'they fall'} into the bed.`,
      'One that stands up is met by the head.',
      'Leave gaps that hold it, and break it out afterwards.',
    ],
  ),
  offSheet: define(
    'laser-off-sheet',
    'warning',
    (cut: string, at: [number, number]) => ({ data: {}, cut, at }),
    () => [
      'It burns beyond the edge of the sheet.',
      'There the beam meets the bed.',
      'Move the artwork onto the sheet, or put in the size of the sheet as it is.',
    ],
  ),
  noPixels: define(
    'laser-no-pixels',
    'error',
    (cut: string, item: string) => ({ data: {}, cut, item }),
    () => ['The picture itself is not at hand.', 'Nothing of it can be burned.', 'Bring the picture in again on Artwork.'],
  ),
  noPicture: define(
    'laser-no-picture',
    'error',
    (cut: string) => ({ data: {}, cut }),
    () => ['This cut burns pictures, and works on none.', 'The program would do nothing here.', 'Bring a picture in, or fill what is drawn instead.'],
  ),
  tilesDatum: define(
    'tiles-datum',
    'error',
    () => ({ data: {} }),
    () => [
      'Tiles are counted from the front left corner, and the datum is at another.',
      'The sheet could not be pushed on to where the next one is burned.',
      'Set the datum at the front left corner of the sheet.',
    ],
  ),
  tilesElsewhere: define(
    'tiles-not-here',
    'error',
    (machine: string) => ({ data: { machine } }),
    ({ machine }) => [
      `Tiles are for a laser, and this job is for a ${machine}.`,
      'They are not looked at here.',
      'Plan it for a laser, or take the tiles out of its document.',
    ],
  ),
  tilesLeftOut: define(
    'tiles-left-out',
    'note',
    (left: number[], count: number) => ({ data: { left: left.map((one) => one + 1), count } }),
    ({ left, count }) => [
      `${left.length === 1 ? 'Tile' : 'Tiles'} ${left.join(', ')} of ${count} ${left.length === 1 ? 'is' : 'are'} left out.`,
      `What lies there is in no program.`,
      'Burn it too on Board when it is wanted.',
    ],
  ),
  tilesMarked: define(
    'tiles-marks',
    'note',
    (seams: number) => ({ data: { seams } }),
    ({ seams }) => [
      `Two small crosses are burned on ${seams === 1 ? 'the seam' : 'each seam'}: the next tile is laid by them.`,
      'They stay on the sheet, near its edges.',
      'Where nothing may be seen push the sheet along a stop instead.',
    ],
  ),
  overscanOff: define(
    'laser-overscan-off-field',
    'error',
    (cut: string, overscan: number, beyond: number) => ({ data: { overscan, beyond }, cut }),
    ({ overscan, beyond }, { len }) => [
      `Each row runs ${len(overscan)} on to either side, and that is ${len(beyond)} wider than the field.`,
      'The carriage would run against its end.',
      'Go slower, make it smaller, or turn the rows.',
    ],
  ),
};
