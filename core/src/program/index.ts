/** Programs: a writer of one neutral RS274/NGC dialect, and a reader that interprets it. */
export { writeProgram, commentText, type ProgramInput, type Section } from './write.ts';
export { readProgram, ProgramReader, OFFSET_WORDS, OP, type Program } from './read.ts';
export { adaptProgram, type Adapted, type Fit } from './adapt.ts';
export { bitsFrom, placesIn, resumeProgram, type Place } from './resume.ts';
export { linesOf } from './lines.ts';
export { gateFindings } from './gate.ts';
export { judgeProgram } from './judge.ts';
export { statsOf, toPath, type ProgramFacts } from './facts.ts';
export { firstBitFitted, pauseIn } from './pause.ts';
