/** The two or three rules of the trade that matter at each stage. (Common practice.) */
import type { Stage } from '../job/stages';

export const HELP: Record<Stage, readonly string[]> = {
  board: [
    'Measure the thickness with a calliper, at all four corners. Boards are rarely as thick as they are sold, and a cut through the board goes by the thickest corner.',
    'A V-carve is only as even as its board: by as much as the board lies low a 60° bit carves its strokes narrower, and a little more.',
    'Say where clamps and screws are. Every cut and every travel move is checked against them.',
  ],
  artwork: [
    'Only closed outlines have an inside to carve. The artwork check finds open ends and doubled lines, and mends them.',
    'Faces with thick and thin strokes V-carve well. Letters that are cut through lose their islands: choose a stencil font, or add bridges.',
    'Capitals can be read from about 300 times their height. Look at the sign from as far as it will hang.',
  ],
  cuts: [
    'A V bit goes as deep as the stroke is wide: 60° about 0.87 of the width, 90° half of it. Give wide strokes a maximum depth.',
    'Carve first, drill, and cut the sign out last: a part that is nearly free moves.',
    'Go no deeper in one pass than the bit is wide, and less in hardwood. The bit maker’s figures and a trial cut have the last word.',
  ],
  proof: [
    'The picture is what the bits leave, not the drawing. Compare it with the drawing to see what they do not reach.',
    'The finest strokes fade first when a board is uneven: look at them in a section.',
    'When a bit is too wide or takes too long, let every bit of the crib be tried.',
  ],
  program: [
    'A release is written by the server and kept with its checksum. The machine runs nothing else.',
    'Warnings you accept are kept with your name.',
    'One file for each bit suits a machine that cannot stop for a bit change.',
  ],
  setup: [
    'Set Z on the highest spot of the board, and measure every bit after it is fitted.',
    'Frame the job with the spindle off, with a hand near the stop, before the first cut.',
    'Take plate and clip away before the spindle turns. The machine’s manual and the rules of your shop come first.',
  ],
  run: [
    'Stay where you can reach the stop. Eye and ear protection on, dust extraction running.',
    'Hold brakes on the path and can be resumed. Stop ends the run; it can go on later from a letter you choose.',
  ],
  record: ['Write down what went wrong while you see it, with a photo. The log finds it by job, wood, bit or person.'],
};
