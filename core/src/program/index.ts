/** Programs: a writer of one neutral RS274/NGC dialect, and a reader that interprets it. */
export { writeProgram, commentText, type ProgramInput, type Section } from './write.ts';
export { readProgram, ProgramReader, OP, type Program } from './read.ts';
export { statsOf, toPath, type ProgramFacts } from './facts.ts';
