/**
 * Does a line of a program stop for a person - M0, M1, or M6 for a change of bit - however it is
 * written: with a line number, with the bit's T before it, in any style of comment? Gives what its
 * comment says, '' without one; null when the line does not stop.
 */
export function pauseIn(line: string): string | null {
  const said: string[] = [];
  const words = line
    .replace(/\(([^)]*)\)/g, (_, text: string) => {
      said.push(text.trim());
      return ' ';
    })
    .replace(/;(.*)$/, (_, text: string) => {
      said.push(text.trim());
      return ' ';
    });
  return /(^|[^A-Z])M0*[016](?![\d.])/i.test(words) ? said.join(' ') : null;
}
