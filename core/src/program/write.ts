/**
 * Writes a toolpath as a program in plain RS274/NGC (words as in NIST IR 6556 and ISO 6983-1):
 * modal words left out when unchanged, a header with everything needed in two months, a safe start,
 * and an end that retracts, stops the spindle and parks, Z before X and Y. What controllers want
 * otherwise - arcs, line numbers, comments, changes of bit - are settings of one writer.
 */
import type { Toolpath } from '../toolpath/index.ts';
import { DWELL, RAPID } from '../toolpath/index.ts';
import type { ProgramSettings } from '../job/index.ts';
import { MM_PER_INCH } from '../length/index.ts';
import { fitArcs } from './arcs.ts';

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
  /** Greatest distance of an arc from the chords it replaces, mm. */
  arcTolerance: number;
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
  const plain = (value: number) => number.text(number.whole(value));
  const lines: string[] = [];
  const words = wordsIn(settings.comments);
  const put = (code: string, text = '') => {
    const line = [code, words(text)].filter((part) => part !== '').join(' ');
    if (line !== '') lines.push(line);
  };
  const parkAt = () => `G53 G0 X${plain(input.park[0] * scale)} Y${plain(input.park[1] * scale)}`;
  for (const text of input.header) for (const line of wrapped(text)) put('', line);
  put(`${inch ? 'G20' : 'G21'} G90 G17 G94 G40 G49 G80`);
  put(settings.workOffset);
  put('G53 G0 Z0');
  for (const line of settings.startLines) put(line);
  input.sections.forEach((section, index) => {
    if (index > 0) {
      if (settings.air !== 'none') put('M9');
      put('M5');
      put('G53 G0 Z0');
      if (settings.park) put(parkAt());
    }
    const fit = `Fit bit ${section.tool}: ${section.bitLabel}, then measure it`;
    if (index > 0 && settings.change === 'M6') put(`T${section.tool} M6`, fit);
    else {
      put(`T${section.tool}`);
      if (index > 0) put('M0', fit);
    }
    if (index > 0) put('G53 G0 Z0');
    put('', `Bit ${section.tool}: ${section.bitLabel}`);
    // A drag diamond only scratches: the spindle stays off, always.
    if (section.speed > 0) {
      put(`S${Math.round(section.speed)} M3`);
      if (input.spindleSeconds > 0) put(`G4 P${plain(input.spindleSeconds)}`);
      if (settings.air !== 'none') put(settings.air);
    } else put('M5', 'Spindle off');
    writeSection(section.path, input, number, scale, put);
  });
  if (settings.air !== 'none') put('M9');
  put('M5');
  put('G53 G0 Z0');
  if (settings.park) put(parkAt());
  for (const line of settings.endLines) put(line);
  put('M30');
  const end = settings.lineEnd === 'crlf' ? '\r\n' : '\n';
  return lines.map((line, k) => (settings.lineNumbers ? `N${10 * (k + 1)} ${line}` : line)).join(end) + end;
}

/** Long lines broken between words: what is cut off a comment says nothing in two months. */
function wrapped(text: string, most = 96): string[] {
  const lines: string[] = [];
  for (const word of text.split(' ')) {
    const last = lines.at(-1);
    if (last === undefined || last.length + 1 + word.length > most) lines.push(last === undefined ? word : `  ${word}`);
    else lines[lines.length - 1] = `${last} ${word}`;
  }
  return lines;
}

/** A comment the way a controller takes it; nothing for one that takes none. */
const wordsIn =
  (style: ProgramSettings['comments']) =>
  (text: string): string =>
    text === '' || style === 'none' ? '' : style === 'brackets' ? `(${commentText(text)})` : `; ${commentText(text)}`;

type Numbers = ReturnType<typeof formatter>;

function writeSection(path: Toolpath, input: ProgramInput, number: Numbers, scale: number, put: (code: string, text?: string) => void): void {
  const inch = input.settings.units === 'in';
  const feedNumber = formatter(inch ? 2 : 0);
  const [datumX, datumY] = input.datum;
  const arcs = input.settings.arcs ? fitArcs(path, input.arcTolerance) : [];
  let arc = 0;
  // Where the program stands, in its last decimal: what does not change is not written.
  let mode = '';
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
        put('', label);
      }
      span++;
    }
    const kind = path.kind[i];
    if (kind === DWELL) {
      put(`G4 P${formatter(3).text(Math.round(path.feed[i] * 1000))}`);
      continue;
    }
    const round = arcs[arc]?.first === i ? arcs[arc++] : null;
    const last = round ? round.last : i;
    const wx = number.whole((path.x[last] - datumX) * scale);
    const wy = number.whole((path.y[last] - datumY) * scale);
    const wz = number.whole((path.z[last] - input.zShift) * scale);
    const wanted = round ? (round.clockwise ? 'G2' : 'G3') : kind === RAPID ? 'G0' : 'G1';
    if (!round && wanted === mode && wx === fx && wy === fy && wz === fz) continue;
    // The first move of a section: up to clearance first, then across.
    if (mode === '') {
      put(`G0 Z${number.text(wz)}`);
      fz = wz;
    }
    const parts: string[] = mode === wanted ? [] : [wanted];
    if (wx !== fx || round) parts.push(`X${number.text(wx)}`);
    if (wy !== fy || round) parts.push(`Y${number.text(wy)}`);
    if (wz !== fz) parts.push(`Z${number.text(wz)}`);
    if (round) {
      // From where the program stands, so that rounding does not add up.
      parts.push(`I${number.text(number.whole((round.x - datumX) * scale) - fx)}`, `J${number.text(number.whole((round.y - datumY) * scale) - fy)}`);
    }
    fx = wx;
    fy = wy;
    fz = wz;
    if (kind !== RAPID) {
      // Rounded down: never faster than asked.
      const wf = inch ? Math.floor(path.feed[i] * scale * 100) : Math.max(1, Math.floor(path.feed[i] + 1e-6));
      if (wf !== ff) parts.push(`F${feedNumber.text(wf)}`);
      ff = wf;
    }
    if (mode === '' && parts.length === 1) parts.length = 0;
    mode = wanted;
    if (parts.length > 0 && !(parts.length === 1 && parts[0] === wanted)) put(parts.join(' '));
    else if (parts.length === 1) mode = '?';
    i = last;
  }
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
