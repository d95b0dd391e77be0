/**
 * Versions of the job document. Each step is a pure function from one version to the next, kept for ever
 * with examples (`reference/golden/v1` and so on): a job of any year opens, and plans to the same bytes.
 */

export const JOB_VERSION = 4;

type Document = Record<string, unknown>;

const isRecord = (data: unknown): data is Document => typeof data === 'object' && data !== null && !Array.isArray(data);

/** A record with one of its keys under another name, in the same place. */
const renameKey = (record: Document, from: string, to: string): Document =>
  Object.fromEntries(Object.entries(record).map(([key, value]) => [key === from ? to : key, value]));

/** What cuts is a tool, as a torch and a laser have no bits: in the list of a job or template, and in each of its cuts. */
export function toolsForBits(document: Document): Document {
  const cuts = isRecord(document.cuts)
    ? Object.fromEntries(Object.entries(document.cuts).map(([key, cut]) => [key, isRecord(cut) ? renameKey(cut, 'bit', 'tool') : cut]))
    : document.cuts;
  return renameKey('cuts' in document ? { ...document, cuts } : document, 'bits', 'tools');
}

/** The order that was the program's, as one of each cut; and where it ends, by name. */
function ordersOfCuts({ program, cuts }: Document): Document {
  if (!isRecord(program)) return {};
  const { order, park, ...rest } = program;
  const ofAll = order === 'artwork' && isRecord(cuts);
  return {
    program: {
      ...rest,
      ...(order === undefined || order === 'shortest' || order === 'artwork' ? {} : { order }),
      ...(park === undefined ? {} : typeof park === 'boolean' ? { end: park ? 'park' : 'stay' } : { park }),
    },
    ...(ofAll ? { cuts: Object.fromEntries(Object.entries(cuts).map(([key, cut]) => [key, isRecord(cut) ? { ...cut, order: 'drawn' } : cut])) } : {}),
  };
}

const STEPS: Record<number, (document: Document) => Document> = {
  // Version 2 says for what kind of machine a job is. All before were for a router.
  1: (document) => ({ ...document, kerbe: 2, process: 'router' }),
  // Version 3 speaks of tools.
  2: (document) => {
    const next: Document = { ...toolsForBits(document), kerbe: 3 };
    const { program, trial } = document;
    if (isRecord(program) && program.split === 'bit') next.program = { ...program, split: 'tool' };
    if (isRecord(trial) && Array.isArray(trial.vary)) next.trial = { ...trial, vary: trial.vary.map((what: unknown) => (what === 'bit' ? 'tool' : what)) };
    return next;
  },
  // In version 4 every cut has an order of its own, and a program ends in one of three ways.
  3: (document) => ({ ...document, kerbe: 4, ...ordersOfCuts(document) }),
};

/** A document as one of the present version; what is none, or of no known version, stays as it is for the schema to refuse. */
export function upToDate(data: unknown): unknown {
  let document = data;
  for (;;) {
    const version = (document as { kerbe?: unknown } | null | undefined)?.kerbe;
    const step = typeof version === 'number' && Object.hasOwn(STEPS, version) ? STEPS[version] : undefined;
    if (!step) return document;
    document = step(document as Document);
  }
}
