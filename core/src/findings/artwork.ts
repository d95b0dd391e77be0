/** What can be wrong with drawn things and with files brought in. */
import { define } from './finding.ts';

export const artworkFindings = {
  notCut: define(
    'not-cut',
    'warning',
    (what: 'all' | 'lines', called: string[], items: string[], at: [number, number]) => ({
      data: { what, called, count: items.length },
      item: items[0],
      at,
      ...(what === 'all' ? { repair: { items, guide: true } } : {}),
    }),
    ({ what, called, count }) => {
      const some = `${called.slice(0, 3).join(', ')}${called.length > 3 ? ` and ${called.length - 3} more` : ''}`;
      return what === 'all'
        ? [
            `Drawn, and no cut works on it: ${some}.`,
            'It would be missing from the sign.',
            'Give it a cut, or mark it as a guide.',
            count > 1 ? 'Mark them as guides' : 'Mark it as a guide',
          ]
        : [`Lines that no cut follows: in ${some}.`, 'It would be missing from the sign.', 'Engrave along them, or make shapes of them.'];
    },
  ),
  leftOut: define(
    'left-out',
    'note',
    (called: string[], items: string[]) => ({ data: { called }, item: items[0], repair: { items, later: true } }),
    ({ called }) => [
      `Left out of this run: ${called.slice(0, 3).join(', ')}${called.length > 3 ? ` and ${called.length - 3} more` : ''}.`,
      'It is kept for the next one.',
      'When this run is done, take what was left out.',
      'Cut these next, and not the rest',
    ],
  ),
  emptyText: define(
    'text-empty',
    'warning',
    (item: string) => ({ data: {}, item }),
    () => ['A piece of text is empty.', 'Nothing of it will be carved.', 'Type some words, or delete the piece.'],
  ),
  missingCharacters: define(
    'text-missing',
    'error',
    (item: string, characters: string[], face: string) => ({ data: { characters, face }, item }),
    ({ characters, face }) => [
      `${face} has no shape for ${characters
        .slice(0, 12)
        .map((c) => `“${c}”`)
        .join(' ')}.`,
      'These characters would be left out of the sign.',
      'Choose another font, or other characters.',
    ],
  ),
  unknownFace: define(
    'text-face',
    'error',
    (item: string, face: string) => ({ data: { face }, item }),
    ({ face }) => [`The face “${face}” is not on this computer.`, 'The words cannot be drawn.', 'Choose one of the faces that ship with Kerbe.'],
  ),
  damagedFace: define(
    'text-face-damaged',
    'error',
    (item: string, face: string) => ({ data: { face }, item }),
    ({ face }) => [
      `The face “${face}” is damaged: its letters cannot be drawn.`,
      'The words would be left out.',
      'Bring the font file again, or choose another font.',
    ],
  ),
  importFailed: define(
    'import-failed',
    'error',
    (why: string) => ({ data: { why } }),
    ({ why }) => [
      `The file cannot be read: ${why}.`,
      'Nothing was brought in; the job is as it was.',
      'Save it again from where it was drawn, or in another format.',
    ],
  ),
  importEmpty: define(
    'import-empty',
    'error',
    () => ({ data: {} }),
    () => [
      'Nothing in the file can be carved.',
      'It holds no filled shape and no line, or only pictures.',
      'Look at it where it was drawn; a picture can be traced instead.',
    ],
  ),
  importLeftOut: define(
    'import-left-out',
    'warning',
    (what: string, count: number) => ({ data: { what, count } }),
    ({ what, count }) => [
      `Left out or changed: ${what}${count > 1 ? ` (${count} times)` : ''}.`,
      'It is not part of what was brought in.',
      'Compare with the drawing; change it there if it matters.',
    ],
  ),
  traceEmpty: define(
    'trace-empty',
    'error',
    () => ({ data: {} }),
    () => ['Nothing in the picture is dark enough to trace.', 'There would be nothing to carve.', 'Move the threshold, or swap dark and light.'],
  ),
  importCutShort: define(
    'import-cut-short',
    'warning',
    () => ({ data: {} }),
    () => ['The file ends before it should.', 'Part of the drawing may be missing.', 'Compare with the original; fetch the file again.'],
  ),
  importChained: define(
    'import-chained',
    'note',
    (count: number) => ({ data: { count } }),
    ({ count }) => [
      `${count} loose ${count === 1 ? 'end was' : 'ends were'} joined.`,
      'Lines whose ends meet make one outline now.',
      'Look whether all outlines are closed as meant.',
    ],
  ),
  importTooMuch: define(
    'import-too-much',
    'warning',
    (most: number) => ({ data: { most } }),
    ({ most }) => [`The file holds more than ${most} things.`, 'Only the first of them were brought in.', 'Split the drawing, or unite what belongs together.'],
  ),
  noBaseline: define(
    'text-no-path',
    'error',
    (item: string) => ({ data: {}, item }),
    () => ['Words stand on a path that is not there.', 'They cannot be drawn.', 'Choose a line or a shape for them, or set them straight.'],
  ),
  lettersFellOff: define(
    'text-off-path',
    'error',
    (item: string, count: number) => ({ data: { count }, item }),
    ({ count }) => [
      `${count === 1 ? 'One letter finds' : `${count} letters find`} no room on the path.`,
      'They would be left out of the sign.',
      'Make the words smaller, or the path longer, or begin further back.',
    ],
  ),
  badPath: define(
    'art-unreadable',
    'error',
    (item: string, why: string) => ({ data: { why }, item }),
    ({ why }) => [`A drawn path cannot be read: ${why}.`, 'It would not be carved.', 'Draw or import it again.'],
  ),
  artOffBoard: define(
    'art-off-board',
    'error',
    (item: string, over: number, at: [number, number]) => ({ data: { over }, item, at, repair: { items: [item] } }),
    ({ over }, { len }) => [
      `Artwork reaches ${len(over)} beyond the edge of the board.`,
      'The bit would cut air, or a clamp.',
      'Move it, make it smaller, or use a larger board.',
      'Move it onto the board',
    ],
  ),
  openEnds: define(
    'art-open-ends',
    'warning',
    (items: string[], count: number, gap: number, at: [number, number]) => ({ data: { count, gap }, item: items[0], at, repair: { items } }),
    ({ count, gap }, { len }) => [
      `${count} loose ${count === 1 ? 'end lies' : 'ends lie'} within ${len(gap)} of another.`,
      'An outline that is not closed encloses nothing: it is not carved, and cut wrong by a torch.',
      'Join them.',
      'Join the ends',
    ],
  ),
  doubled: define(
    'art-doubled',
    'warning',
    (items: string[], count: number, at: [number, number]) => ({ data: { count }, item: items[0], at, repair: { items } }),
    ({ count }) => [
      `${count === 1 ? 'One thing is' : `${count} things are`} drawn twice in the same place.`,
      'Everything there would be cut twice.',
      'Remove the copies.',
      'Remove the copies',
    ],
  ),
  doubledEdges: define(
    'art-doubled-edges',
    'warning',
    (items: string[], count: number, at: [number, number]) => ({ data: { count }, item: items[0], at, repair: { items } }),
    ({ count }) => [
      `${count === 1 ? 'One piece of line lies' : `${count} pieces of line lie`} on another.`,
      'They would be cut twice.',
      'Keep each once.',
      'Keep each once',
    ],
  ),
  selfCrossing: define(
    'art-self-crossing',
    'warning',
    (item: string, at: [number, number]) => ({ data: {}, item, at, repair: { items: [item] } }),
    () => [
      'An outline crosses itself.',
      'What is inside and what outside is not plain there.',
      'Unite it: every part that is painted becomes one clean outline.',
      'Unite it',
    ],
  ),
  overlap: define(
    'art-overlap',
    'warning',
    (items: [string, string], area: number, at: [number, number]) => ({ data: { area }, item: items[1], at, repair: { items } }),
    ({ area }, { areaOf }) => [
      `Two shapes lie over each other (${areaOf(area)}).`,
      'Where they do the bit would go twice, and a V-carve would run inside the overlap.',
      'Unite them, or leave them when they are meant to be carved one after the other.',
      'Unite them',
    ],
  ),
  specks: define(
    'art-specks',
    'warning',
    (item: string, count: number, least: number, at: [number, number]) => ({ data: { count, least }, item, at, repair: { items: [item] } }),
    ({ count, least }, { len }) => [
      `${count === 1 ? 'A speck or sliver is' : `${count} specks or slivers are`} finer than ${len(least)}.`,
      'The bit cannot show them; they carve to fuzz.',
      'Drop them.',
      'Drop them',
    ],
  ),
  needlessNodes: define(
    'art-needless-nodes',
    'note',
    (item: string, gone: number, of: number, worst: number, at: [number, number]) => ({ data: { gone, of, worst }, item, at, repair: { items: [item] } }),
    ({ gone, of, worst }, { len }) => [
      `${gone} of ${of} nodes are not needed: curves come within ${len(worst)} of the same line.`,
      'Wavy outlines of many short lines slow the carve.',
      'Fit curves.',
      'Fit curves',
    ],
  ),
  lettersOverlap: define(
    'art-letters-overlap',
    'note',
    (item: string, count: number, at: [number, number]) => ({ data: { count }, item, at, repair: { items: [item] } }),
    ({ count }) => [
      `${count === 1 ? 'One letter runs' : `${count} letters run`} into the next.`,
      'They are united before carving, so the bit follows the outline of both.',
      'Give them more room if each should stand by itself.',
      'Space the letters',
    ],
  ),
  wrongWinding: define(
    'art-winding',
    'warning',
    (item: string, count: number, at: [number, number]) => ({ data: { count }, item, at, repair: { items: [item] } }),
    ({ count }) => [
      `${count === 1 ? 'An inner outline runs' : `${count} inner outlines run`} the same way round as the outer.`,
      'By the rule this artwork is filled by, that is no hole: it would be carved solid.',
      'Turn it round, if it is meant as a hole.',
      'Make holes of them',
    ],
  ),
  islands: define(
    'art-islands',
    'error',
    (item: string, count: number, letters: number, words: boolean, at: [number, number]) => ({
      data: { count, letters, words },
      item,
      at,
      repair: { items: [item] },
    }),
    ({ count, letters, words }) => [
      `${count === 1 ? 'One part drops out' : `${count} parts drop out`} when this is cut through${letters > 1 ? ` (in ${letters} of its shapes)` : ''}.`,
      'Nothing holds what lies inside a closed cut.',
      words ? 'Bridge them, or choose a stencil font, or capitals that have fewer islands.' : 'Bridge them.',
      'Bridge them',
    ],
  ),
  narrowerThanBit: define(
    'art-narrower-than-bit',
    'warning',
    (item: string, cut: string, count: number, width: number, at: [number, number]) => ({ data: { count, width }, item, cut, at }),
    ({ count, width }, { len }) => [
      `${count === 1 ? 'One part is' : `${count} parts are`} narrower than the bit (${len(width)}).`,
      'The bit does not get in there; the part stays uncut.',
      'Choose a thinner bit, or a larger drawing.',
    ],
  ),
  tooMuchDrawn: define(
    'art-too-much',
    'error',
    (item: string, most: number) => ({ data: { most }, item }),
    ({ most }) => [
      `With this thing the artwork has more than ${most.toLocaleString('en-GB')} points.`,
      'It is not drawn and nothing is planned: no sign needs so many, and they would fill the memory.',
      'Take out what is not cut, make patterns of holes smaller, or simplify outlines.',
    ],
  ),
};
