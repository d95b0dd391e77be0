/** Labels of the drawn board: plan, carved, section, and the tools on them. */
import type { Said } from './said';

export const DRAWING = {
  // BitInGroove
  deepInTheBoard: (bit: Said, depth: Said) => `${bit} ${depth} deep in the board`,

  // BoardTools
  select: 'Select',
  selectAndMove: 'Select and move',
  nodesOfAFreePath: 'Nodes of a free path',
  drawALine: 'Draw a line',
  trim: 'Trim',
  cutAwayALineBetween: 'Cut away a line between what crosses it',
  extend: 'Extend',
  drawTheEndOfA: 'Draw the end of a line out until it meets something',
  tryABit: 'Try a bit',
  aCircleAsWideAs: 'A circle as wide as the bit',
  keepADimension: 'Keep a dimension',
  toolsOnTheBoard: 'Tools on the board',
  showTheWholeBoard: 'Show the whole board',
  snap: 'snap',
  grid: 'Grid',
  bitToTry: 'Bit to try',
  clearTheGuides: 'Clear the guides',
  clearGuides: 'clear guides',
  clearTheDimensions: 'Clear the dimensions',
  clearDimensions: 'clear dimensions',
  keepItOnTheDrawing: 'Keep it on the drawing',

  // CarvedBoard
  carvedBoard: (figures: Said) => `The carved board${figures}. Arrow keys turn it, plus and minus change the distance.`,
  measured: 'Measured',

  // PlanBoard
  boardFromAboveArrowKeys: 'Board from above. Arrow keys nudge the selected artwork, plus and minus zoom, 0 shows the whole board.',

  // SectionBoard
  directionOfTheSection: 'Direction of the section',
  alongTheBoard: 'Along the board',
  acrossIt: 'Across it',
  closeUpOnOneGroove: 'Close up on one groove',
  sectionThroughTheBoard: (figures: Said) => `Section through the board${figures}`,

  // SectionLine
  lineOfTheSection: 'Line of the section',
  startOfTheLine: 'Start of the line',
  endOfTheLine: 'End of the line',

  // TypeHere
  theWordsTypedOnThe: 'The words, typed on the board',

  // handles
  scale: 'Scale',

  // probes
  bridge: 'Bridge',
} as const;
