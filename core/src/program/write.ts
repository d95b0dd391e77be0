/**
 * Writes a toolpath as a program in plain RS274/NGC (words as in NIST IR 6556 and ISO 6983-1):
 * modal words left out when unchanged, a header with everything needed in two months, a safe start,
 * and an end that retracts, stops the spindle and parks, Z before X and Y. What controllers want
 * otherwise - arcs, line numbers, comments, changes of bit - are settings of one writer.
 */
import type { Span, Toolpath } from '../toolpath/index.ts';
import { DWELL, FEED, RAPID } from '../toolpath/index.ts';
import { eventLines, levelWords, type PowerWords } from './power.ts';
import type { ProgramSettings } from './settings.ts';
import { MM_PER_INCH } from '../length/index.ts';
import { fitArcs, type Arc } from './arcs.ts';

/** One stretch of the program, cut by one bit at one spindle speed. */
export interface Section {
  tool: number;
  bitLabel: string;
  /** rev/min, on throughout; 0 for a path that says itself what is on, or for none at all. */
  speed: number;
  path: Toolpath;
}

/** Which lines of a program, from 1, cut what. */
export interface ProgramSpan extends Omit<Span, 'start' | 'end'> {
  line: number;
  last: number;
}

/** What is cut at a line: the span it lies in, or the last before it. Spans stand in the order of their lines. */
export function spanAt<S extends { line: number }>(spans: readonly S[], line: number): S | null {
  let [low, high] = [0, spans.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (spans[middle].line <= line) low = middle + 1;
    else high = middle;
  }
  return spans[low - 1] ?? null;
}

export interface ProgramInput {
  /** Lines of the header, plain text. */
  header: string[];
  sections: readonly Section[];
  settings: ProgramSettings;
  /** How its process says what is on. */
  words: PowerWords;
  /** Board coordinates of the datum; the program counts from there. */
  datum: readonly [number, number];
  /** Height of Z = 0 of the program above Z = 0 of the toolpath (top of the board), mm. */
  zShift: number;
  spindleSeconds: number;
  /** What is fitted, in a word, and whether it is then measured. */
  tool: string;
  measured: boolean;
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

/** Lines that are put together at once. */
const BATCH = 4096;

export function writeProgram(input: ProgramInput): { text: string; spans: ProgramSpan[] } {
  const { settings } = input;
  const inch = settings.units === 'in';
  const scale = inch ? 1 / MM_PER_INCH : 1;
  const number = formatter(inch ? settings.decimals + 1 : settings.decimals);
  const plain = (value: number) => number.text(number.whole(value));
  const end = settings.lineEnd === 'crlf' ? '\r\n' : '\n';
  // Lines are put together as they come: a picture has a million of them, and as single strings they fill the memory.
  const written: string[] = [];
  let batch: string[] = [];
  let count = 0;
  const spans: ProgramSpan[] = [];
  const comment = wordsIn(settings.comments);
  const put: Put = (code, text = '') => {
    const said = text === '' ? '' : comment(text);
    const line = said === '' ? code : code === '' ? said : `${code} ${said}`;
    if (line === '') return;
    count++;
    batch.push(settings.lineNumbers ? `N${10 * count} ${line}` : line);
    if (batch.length < BATCH) return;
    written.push(batch.join(end));
    batch = [];
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
      if (settings.end === 'park') put(parkAt());
    }
    const fit = `Fit ${input.tool} ${section.tool}: ${section.bitLabel}${input.measured ? ', then measure it' : ''}`;
    if (settings.change === 'M6') {
      // A machine that changes by itself is told of the first bit too.
      put(`T${section.tool} M6`, fit);
      if (settings.lengths === 'G43') put(`G43 H${section.tool}`);
    } else {
      put(`T${section.tool}`);
      if (index > 0) put('M0', fit);
    }
    if (index > 0 || settings.change === 'M6') put('G53 G0 Z0');
    put('', `${input.tool[0].toUpperCase()}${input.tool.slice(1)} ${section.tool}: ${section.bitLabel}`);
    // A drag diamond only scratches: the spindle stays off, always.
    if (section.speed > 0) {
      put(`S${Math.round(section.speed)} ${input.words.on}`);
      if (input.spindleSeconds > 0) put(`G4 P${plain(input.spindleSeconds)}`);
      if (settings.air !== 'none') put(settings.air);
    } else put('M5', section.path.events ? '' : 'Spindle off');
    writeSection(
      section.path,
      input,
      number,
      scale,
      put,
      (span) => spans.push(span),
      () => count,
    );
  });
  if (settings.air !== 'none') put('M9');
  put('M5');
  put('G53 G0 Z0');
  if (settings.end === 'park') put(parkAt());
  if (settings.end === 'datum') put('G0 X0 Y0');
  for (const line of settings.endLines) put(line);
  put('M30');
  if (batch.length > 0) written.push(batch.join(end));
  return { text: written.join(end) + end, spans };
}

/** How far below the plate's top it is felt for at most, mm. */
const TOUCH_REACH = 20;

type Put = (code: string, text?: string) => void;

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

/** @param told hears of every span with its lines. @param lines how many lines there are by now */
function writeSection(
  path: Toolpath,
  input: ProgramInput,
  number: Numbers,
  scale: number,
  put: Put,
  told: (span: ProgramSpan) => void,
  lines: () => number,
): void {
  const inch = input.settings.units === 'in';
  const feedNumber = formatter(inch ? 2 : 0);
  const [datumX, datumY] = input.datum;
  const arcs = input.settings.arcs ? fitArcs(path, input.arcTolerance).filter((one) => isSteady(path, one)) : [];
  let arc = 0;
  const holes = input.settings.drilling === 'cycles' ? holesIn(path) : [];
  let hole = 0;
  let inCycle = false;
  // Where the program stands, in its last decimal: what does not change is not written.
  let mode = '';
  let fx = NaN;
  let fy = NaN;
  let fz = NaN;
  let ff = NaN;
  let fp = NaN;
  let label = '';
  let span = 0;
  let event = 0;
  /** The next move feels for the plate. */
  let touched: number | null = null;
  /** An arc was struck just now. */
  let struck = false;
  const { events = [], power, spans, kind: kinds, x: xs, y: ys, z: zs, feed: feeds } = path;
  const { zShift } = input;
  const dark = input.words.darkRapids === true;
  /** Words of each power: there are few of them. */
  const levels = new Map<number, ReturnType<typeof levelWords>>();
  const levelOf = (now: number) => {
    let said = levels.get(now);
    if (!said) levels.set(now, (said = levelWords(now, input.words)));
    return said;
  };
  // Where the program stands and where the arc ends, in the last decimal, may no longer lie on one circle: then it stays chords.
  const fits = (candidate: Arc) => {
    const [cx, cy] = [number.whole((candidate.x - datumX) * scale), number.whole((candidate.y - datumY) * scale)];
    const [ex, ey] = [number.whole((xs[candidate.last] - datumX) * scale), number.whole((ys[candidate.last] - datumY) * scale)];
    return Math.abs(Math.hypot(fx - cx, fy - cy) - Math.hypot(ex - cx, ey - cy)) <= number.unit * scale * OFF_CIRCLE;
  };
  /** The span under way, and the line before its first. */
  let open: { span: Span; before: number } | null = null;
  const close = () => {
    if (!open || lines() === open.before) return;
    const { start: _, end: __, ...facts } = open.span;
    told({ ...facts, line: open.before + 1, last: lines() });
    open = null;
  };
  for (let i = 0; i < kinds.length; i++) {
    while (span < spans.length && spans[span].start <= i) {
      close();
      if (spans[span].label !== label) {
        label = spans[span].label;
        put('', label);
      }
      open = { span: spans[span], before: lines() };
      span++;
    }
    for (; event < events.length && events[event].at <= i; event++) {
      const now = events[event];
      for (const line of eventLines(now, input.words)) put(line);
      fp = 'on' in now ? now.on : 'off' in now ? NaN : fp;
      if ('touch' in now) touched = now.touch.travel;
      struck = 'pierce' in now && now.pierce !== undefined;
    }
    const kind = kinds[i];
    const drilled = holes[hole]?.first === i ? holes[hole++] : null;
    if (drilled) {
      [fx, fy, fz] = [number.whole((drilled.x - datumX) * scale), number.whole((drilled.y - datumY) * scale), number.whole((drilled.from - zShift) * scale)];
      if (mode === '') put(`G0 Z${number.text(fz)}`);
      const wf = feedWhole(feeds[drilled.feedAt], inch);
      const words = [`X${number.text(fx)}`, `Y${number.text(fy)}`];
      words.push(`Z${number.text(number.whole((drilled.bottom - zShift) * scale))}`, `R${number.text(number.whole((drilled.top - zShift) * scale))}`);
      // Rounded up: never a peck more, of next to nothing.
      if (drilled.pecks > 1) words.push(`Q${number.text(number.up(((drilled.top - drilled.bottom) / drilled.pecks) * scale))}`);
      if (drilled.dwell > 0) words.push(`P${formatter(3).text(Math.round(drilled.dwell * 1000))}`);
      words.push(`F${feedNumber.text(wf)}`);
      put(`G98 ${drilled.pecks > 1 ? 'G83' : drilled.dwell > 0 ? 'G82' : 'G81'} ${words.join(' ')}`);
      [ff, mode, inCycle] = [wf, 'cycle', true];
      i = drilled.last;
      continue;
    }
    if (inCycle) put('G80');
    inCycle = false;
    if (touched !== null) {
      // Felt for further down than it can lie; where the switch speaks, the height is known.
      put(`G38.2 Z${number.text(number.whole((-TOUCH_REACH - zShift) * scale))} F${feedNumber.text(feedWhole(feeds[i], inch))}`);
      fz = number.whole((-touched - zShift) * scale);
      put(`G10 L20 P0 Z${number.text(fz)}`);
      [mode, ff, touched] = ['?', NaN, null];
      continue;
    }
    if (kind === DWELL) {
      // A dimple is that long by itself; before a cut a machine that knows its arc waits on its own.
      const own = struck && input.settings.pierce === 'machine' && power && !Number.isNaN(power[i + 1]);
      struck = false;
      if (!own) put(`G4 P${formatter(3).text(Math.round(feeds[i] * 1000))}`);
      continue;
    }
    while (arcs[arc]?.first < i) arc++;
    const round = arcs[arc]?.first === i && fits(arcs[arc]) ? arcs[arc++] : null;
    const last = round ? round.last : i;
    const wx = number.whole((xs[last] - datumX) * scale);
    const wy = number.whole((ys[last] - datumY) * scale);
    const wz = number.whole((zs[last] - zShift) * scale);
    const wanted = round ? (round.clockwise ? 'G2' : 'G3') : kind === RAPID ? 'G0' : 'G1';
    const now = power && !Number.isNaN(fp) && (kind !== RAPID || dark) ? power[i] : fp;
    const changed = now !== fp && !Number.isNaN(now) ? levelOf(now) : null;
    if (!round && !changed && wanted === mode && wx === fx && wy === fy && wz === fz) continue;
    if (changed?.before) put(changed.before);
    fp = now;
    // The first move of a section: up to clearance first, then across.
    if (mode === '') {
      put(`G0 Z${number.text(wz)}`);
      fz = wz;
    }
    // The words after the motion's own; a space between them only where something stands before.
    let words = '';
    if (wx !== fx || round) words = `X${number.text(wx)}`;
    if (wy !== fy || round) words = `${words}${words === '' ? '' : ' '}Y${number.text(wy)}`;
    if (wz !== fz) words = `${words}${words === '' ? '' : ' '}Z${number.text(wz)}`;
    if (round) {
      // From where the program stands, so that rounding does not add up.
      words += ` I${number.text(number.whole((round.x - datumX) * scale) - fx)} J${number.text(number.whole((round.y - datumY) * scale) - fy)}`;
    }
    fx = wx;
    fy = wy;
    fz = wz;
    if (kind !== RAPID) {
      // Rounded down: never faster than asked.
      const wf = feedWhole(feeds[i], inch);
      if (wf !== ff) words = `${words}${words === '' ? '' : ' '}F${feedNumber.text(wf)}`;
      ff = wf;
    }
    if (changed?.inLine) words = `${words}${words === '' ? '' : ' '}${changed.inLine}`;
    const [first, same] = [mode === '', mode === wanted];
    mode = wanted;
    if (words !== '') put(same ? words : `${wanted} ${words}`);
    else if (!same && !first) mode = '?';
    i = last;
  }
  if (inCycle) put('G80');
  for (; event < events.length; event++) for (const line of eventLines(events[event], input.words)) put(line);
  close();
}

/** Is nothing switched and no power changed within an arc? */
const isSteady = ({ power, events = [] }: Toolpath, { first, last }: Arc): boolean =>
  !events.some(({ at }) => at > first && at <= last) && (!power || power.subarray(first, last + 1).every((now) => Object.is(now, power[first])));

/** A feed in whole units of its last decimal. */
const feedWhole = (feed: number, inch: boolean): number => (inch ? Math.floor((feed / MM_PER_INCH) * 100) : Math.max(1, Math.floor(feed + 1e-6)));

/** How far the ends of an arc may lie off one circle, mm: controllers refuse more (RS274/NGC, from memory: 0.0002 in). */
const OFF_CIRCLE = 0.005;

/** A drilled hole as a canned cycle has it. */
interface DrilledHole {
  /** Its moves. */
  first: number;
  last: number;
  x: number;
  y: number;
  /** Heights: where the bit comes from and goes back to, where the pecks begin, and the bottom. */
  from: number;
  top: number;
  bottom: number;
  pecks: number;
  dwell: number;
  /** A move with its feed. */
  feedAt: number;
}

/** Holes of a path that a canned cycle drills just so: equal pecks from one height, out to it between them, a wait only after a single one. */
function holesIn({ spans, kind, x, y, z, feed }: Toolpath): DrilledHole[] {
  return spans.flatMap(({ start, end, label }) => {
    let i = start;
    if (label !== 'hole' || end - start < 4 || kind[i] !== RAPID || kind[i + 1] !== RAPID || kind[i + 2] !== FEED) return [];
    const hole: DrilledHole = { first: i, last: end - 1, x: x[i], y: y[i], from: z[i], top: z[i + 1], bottom: z[i + 2], pecks: 1, dwell: 0, feedAt: i + 2 };
    const peck = hole.top - hole.bottom;
    for (i += 3; kind[i] === RAPID && kind[i + 1] === RAPID && kind[i + 2] === FEED && i + 2 < end; i += 3) {
      hole.pecks++;
      if (Math.abs(z[i] - hole.top) > 1e-9 || Math.abs(hole.bottom - z[i + 2] - peck) > 1e-6) return [];
      hole.bottom = z[i + 2];
    }
    if (kind[i] === DWELL && i < end) hole.dwell = feed[i++];
    const out = i === end - 1 && kind[i] === RAPID && z[i] === hole.from;
    for (let k = start; k < end; k++) if (x[k] !== hole.x || y[k] !== hole.y) return [];
    return out && !(hole.pecks > 1 && hole.dwell > 0) ? [hole] : [];
  });
}

/** Fixed decimals without trailing zeros or minus zero: a value in whole last decimals, and those as text. */
function formatter(decimals: number): { unit: number; whole(value: number): number; up(value: number): number; text(whole: number): string } {
  const unit = 10 ** decimals;
  /** What stands behind the point, by its whole last decimals: programs have millions of numbers, and few of these. */
  const behind: string[] = [];
  return {
    unit,
    // Adding zero makes minus zero plain.
    whole: (value) => Math.round(value * unit) + 0,
    up: (value) => Math.ceil(value * unit - 1e-9) + 0,
    text: (whole) => {
      const size = whole < 0 ? -whole : whole;
      if (!(size < 1e9)) return size < 1e21 ? String(whole / unit) : (whole / unit).toFixed(decimals);
      const full = Math.floor(size / unit);
      const rest = size - full * unit;
      behind[rest] ??= rest === 0 ? '' : `.${String(rest).padStart(decimals, '0').replace(/0+$/, '')}`;
      return (whole < 0 ? '-' : '') + full + behind[rest];
    },
  };
}
