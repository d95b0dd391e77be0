/** A fault in what was typed, or in a file: said in words, without a stack trace. */
export class Refusal extends Error {}
