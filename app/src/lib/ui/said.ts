/** What is said of a form as a whole: that it was done, or why it was not. */
export type Said = { said: string } | { why: string };
