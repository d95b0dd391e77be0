/**
 * Writes a toolpath as a program in plain RS274/NGC (words as in NIST IR 6556 and ISO 6983-1):
 * lines only, modal words left out when unchanged, a header with everything needed in two
 * months, a safe start, and an end that retracts, stops the spindle and parks, Z before X and Y.
 */
import type { Toolpath } from '../toolpath/index.ts';
import { RAPID } from '../toolpath/index.ts';
import type { ProgramSettings } from '../job/index.ts';
import { MM_PER_INCH } from '../length/index.ts';

/** One stretch of the program, cut by one bit at one spindle speed. */
export interface Section {
  tool: number;
  bitLabel: string;
  speed: number;
  path: Toolpath;
}

export interface ProgramInput {
  /** Lines of the header, plain text. */
  header: string[];
  sections: readonly Section[];
  settings: ProgramSettings;
  /** Board coordinates of the datum; the program counts from there. */
  datum: readonly [number, number];
  /** Height of Z = 0 of the program above Z = 0 of the toolpath (top of the board), mm. */
  zShift: number;
  spindleSeconds: number;
  park: readonly [number, number];
}

/** Plain ASCII without brackets: what every controller accepts inside a comment. */
export const commentText = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replaceAll('°', ' deg')
    .replaceAll('×', 'x')
    .replace(/[–—−]/g, '-')
    .replaceAll('(', '[')
    .replaceAll(')', ']')
    .replace(/[^\x20-\x7e]/g, '?')
    .slice(0, 100);

export function writeProgram(input: ProgramInput): string {
  const { settings } = input;
  const inch = settings.units === 'in';
  const scale = inch ? 1 / MM_PER_INCH : 1;
  const number = formatter(inch ? settings.decimals + 1 : settings.decimals);
  const feedNumber = formatter(inch ? 2 : 0);
  const plain = (value: number) => number.text(number.whole(value));
  const lines: string[] = input.header.map((text) => `(${commentText(text)})`);
  lines.push(`${inch ? 'G20' : 'G21'} G90 G17 G94 G40 G49 G80`, 'G54', 'G53 G0 Z0');
  const [datumX, datumY] = input.datum;
  input.sections.forEach((section, index) => {
    if (index > 0) lines.push('M5', 'G53 G0 Z0', `G53 G0 X${plain(input.park[0] * scale)} Y${plain(input.park[1] * scale)}`);
    lines.push(`T${section.tool}`);
    if (index > 0) lines.push(`M0 (Fit bit ${section.tool}: ${commentText(section.bitLabel)}, then measure it)`, 'G53 G0 Z0');
    lines.push(`(Bit ${section.tool}: ${commentText(section.bitLabel)})`, `S${Math.round(section.speed)} M3`, `G4 P${plain(input.spindleSeconds)}`);
    const { path } = section;
    let mode = -1;
    // Where the program stands, in its last decimal: what does not change is not written.
    let fx = NaN;
    let fy = NaN;
    let fz = NaN;
    let ff = NaN;
    let label = '';
    let span = 0;
    for (let i = 0; i < path.kind.length; i++) {
      while (span < path.spans.length && path.spans[span].start <= i) {
        if (path.spans[span].label !== label) {
          label = path.spans[span].label;
          lines.push(`(${commentText(label)})`);
        }
        span++;
      }
      const kind = path.kind[i];
      const wx = number.whole((path.x[i] - datumX) * scale);
      const wy = number.whole((path.y[i] - datumY) * scale);
      const wz = number.whole((path.z[i] - input.zShift) * scale);
      if (kind === mode && wx === fx && wy === fy && wz === fz) continue;
      let line = kind === mode ? '' : kind === RAPID ? 'G0' : 'G1';
      // The first move of a section: up to clearance first, then across.
      if (mode === -1) {
        lines.push(`G0 Z${number.text(wz)}`);
        fz = wz;
        line = 'G0';
      }
      mode = kind;
      if (wx !== fx) line += `${line ? ' ' : ''}X${number.text(wx)}`;
      if (wy !== fy) line += `${line ? ' ' : ''}Y${number.text(wy)}`;
      if (wz !== fz) line += `${line ? ' ' : ''}Z${number.text(wz)}`;
      fx = wx;
      fy = wy;
      fz = wz;
      if (kind !== RAPID) {
        // Rounded down: never faster than asked.
        const wf = inch ? Math.floor(path.feed[i] * scale * 100) : Math.max(1, Math.floor(path.feed[i] + 1e-6));
        if (wf !== ff) line += ` F${feedNumber.text(wf)}`;
        ff = wf;
      }
      if (line !== 'G0' && line !== 'G1') lines.push(line);
    }
  });
  lines.push('M5', 'G53 G0 Z0', `G53 G0 X${plain(input.park[0] * scale)} Y${plain(input.park[1] * scale)}`, 'M30');
  return lines.join('\n') + '\n';
}

/** Fixed decimals without trailing zeros or minus nought: a value in whole last decimals, and those as text. */
function formatter(decimals: number): { whole(value: number): number; text(whole: number): string } {
  const unit = 10 ** decimals;
  return {
    // Adding nought makes minus nought plain.
    whole: (value) => Math.round(value * unit) + 0,
    text: (whole) => {
      const text = String(whole / unit);
      return text.includes('e') ? (whole / unit).toFixed(decimals) : text;
    },
  };
}
