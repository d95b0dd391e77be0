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

/**
 * A machine that changes bits by itself is told of its first one too. Where a person has fitted it before the
 * start that is no stop: the M6 is taken out before anything is cut or turns. Lines keep their numbers.
 */
export function firstBitFitted(text: string): string {
  const lines = text.split('\n');
  for (let n = 0; n < lines.length; n++) {
    const words = lines[n].replace(/\([^)]*\)|;.*$/g, ' ');
    if (/(^|[^A-Z])(M0*[34]|G0*[123])(?![\d.])/i.test(words)) break;
    if (!/(^|[^A-Z])M0*6(?![\d.])/i.test(words)) continue;
    lines[n] = lines[n].replace(/M0*6(?![\d.])/i, '').replace(/  +/g, ' ');
    break;
  }
  return lines.join('\n');
}
