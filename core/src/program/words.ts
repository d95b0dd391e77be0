/**
 * Lines of a program as words: letters with their numbers, as RS274/NGC writes them (NIST IR 6556, section
 * 3.3): spaces mean nothing, letters are of either case, comments stand in brackets or after a semicolon.
 * What the words mean is the interpreter's business.
 */

/** Letters of a line and their numbers; used again for every line. */
export class Words {
  count = 0;
  readonly letter = new Uint8Array(MOST);
  readonly value = new Float64Array(MOST);
  /** Comments of the line, as from and to in its bytes. */
  readonly comments: number[] = [];

  /**
   * Takes the line apart.
   *
   * @returns what is wrong with it, in words; null when it is well formed
   */
  read(bytes: Uint8Array, start: number, end: number): string | null {
    this.count = 0;
    this.comments.length = 0;
    let i = start;
    while (i < end) {
      let c = bytes[i++];
      if (c === SPACE || c === TAB || c === RETURN) continue;
      if (c === SEMICOLON) {
        this.comments.push(i, end);
        return null;
      }
      if (c === OPEN) {
        const close = bytes.indexOf(CLOSE, i);
        if (close < 0 || close >= end) return 'a comment is opened with ( and never closed';
        this.comments.push(i, close);
        i = close + 1;
        continue;
      }
      if (c >= 97 && c <= 122) c -= 32;
      if (c === SLASH && this.count === 0) continue; // block delete switch: off
      if (c < 65 || c > 90) return REFUSED[c] ?? `“${String.fromCharCode(c)}” is not a word of a program`;
      if (c === LETTER.O) return 'O-words (subroutines and loops) are not read; write the program out in full';
      while (i < end && (bytes[i] === SPACE || bytes[i] === TAB)) i++;
      let sign = 1;
      if (bytes[i] === MINUS) {
        sign = -1;
        i++;
      } else if (bytes[i] === PLUS) i++;
      let digits = 0;
      let mantissa = 0;
      let divisor = 0;
      for (; i < end; i++) {
        const d = bytes[i];
        if (d >= 48 && d <= 57) {
          mantissa = mantissa * 10 + (d - 48);
          divisor *= 10;
          digits++;
        } else if (d === POINT && divisor === 0) divisor = 1;
        else if (d !== SPACE && d !== TAB) break;
      }
      if (digits === 0) return i < end && REFUSED[bytes[i]] ? REFUSED[bytes[i]] : `${String.fromCharCode(c)} has no number`;
      if (digits > 15) return `the number after ${String.fromCharCode(c)} is too long`;
      if (this.count === MOST) return 'the line holds too many words';
      this.letter[this.count] = c;
      this.value[this.count++] = (sign * mantissa) / (divisor || 1);
    }
    return null;
  }
}

/** More words than any line of sense has. */
const MOST = 64;

const [TAB, RETURN, SPACE, OPEN, CLOSE, PLUS, MINUS, POINT, SLASH, SEMICOLON] = [9, 13, 32, 40, 41, 43, 45, 46, 47, 59];

/** Letters by their codes. */
export const LETTER = {
  A: 65,
  B: 66,
  C: 67,
  D: 68,
  E: 69,
  F: 70,
  G: 71,
  H: 72,
  I: 73,
  J: 74,
  K: 75,
  L: 76,
  M: 77,
  N: 78,
  O: 79,
  P: 80,
  Q: 81,
  R: 82,
  S: 83,
  T: 84,
  X: 88,
  Y: 89,
  Z: 90,
};

/** What is known of RS274/NGC and not read here, by its first character. */
const REFUSED: Record<number, string> = {
  35: 'parameters (#) are not read; write the numbers themselves',
  91: 'expressions in [ ] are not read; write the numbers themselves',
};
