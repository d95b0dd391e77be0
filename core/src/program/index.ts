/** Programs: a writer of one neutral RS274/NGC dialect, and a reader that interprets it. */
export { writeProgram, commentText, spanAt, type ProgramInput, type ProgramSpan, type Section } from './write.ts';
export { readProgram, ProgramReader, OFFSET_WORDS, OP, type Program } from './read.ts';
export { adaptProgram, type Adapted, type WorkAlignment } from './adapt.ts';
export { bitsFrom, resumePoints, resumeProgram, type ResumePoint, type Reentry } from './resume.ts';
export { linesOf } from './lines.ts';
export { gateFindings } from './gate.ts';
export { judgeProgram } from './judge.ts';
export { statsOf, toPath, toPoweredPath, type ProgramFacts } from './facts.ts';
export type { PowerWords } from './power.ts';
export { firstBitFitted, pauseIn } from './pause.ts';
export { workedBetween, type Worked } from './worked.ts';
