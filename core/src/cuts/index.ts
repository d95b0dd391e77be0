/**
 * The registry of kinds of cut. The `Cut` of a job document is the union of what is registered here,
 * and everything else asks `kindOf`. docs/adding-a-cut.md leads through adding one.
 */
import { z } from 'zod';
import type { Bit } from '../bits/schema.ts';
import type { ProcessName } from '../process/index.ts';
import type { BaseCut, CutKind as Definition, CutMaker } from './kind.ts';
import { chamfer, chamferMaker } from './router/kinds/chamfer.ts';
import { drag, dragMaker } from './router/kinds/drag.ts';
import { drill, drillMaker } from './router/kinds/drill.ts';
import { engrave, engraveMaker } from './router/kinds/engrave.ts';
import { plug, plugMaker, recess, recessMaker } from './router/kinds/fit.ts';
import { pocket, pocketMaker } from './router/kinds/pocket.ts';
import { profile, profileMaker } from './router/kinds/profile.ts';
import { surface, surfaceMaker } from './router/kinds/surface.ts';
import { texture, textureMaker } from './router/kinds/texture.ts';
import { laserCut, laserCutMaker, laserFill, laserFillMaker, laserPicture, laserPictureMaker, laserScore, laserScoreMaker } from './laser/kinds/laser.ts';
import { mark, markMaker } from './torch/kinds/mark.ts';
import { torch, torchMaker } from './torch/kinds/torch.ts';
import { vcarve, vcarveMaker } from './router/kinds/vcarve.ts';

export * from './kind.ts';
export type { Grey } from './laser/tone.ts';
export type { TorchContour } from './torch/way.ts';

/** Every kind, in the order they are offered. */
const DEFINITIONS = [
  vcarve,
  pocket,
  profile,
  drill,
  engrave,
  drag,
  recess,
  plug,
  chamfer,
  texture,
  surface,
  torch,
  mark,
  laserCut,
  laserScore,
  laserFill,
  laserPicture,
] as const;

type SchemasOf<T extends readonly unknown[]> = { -readonly [K in keyof T]: T[K] extends { schema: infer S } ? S : never };

export const Cut = z.discriminatedUnion('kind', DEFINITIONS.map(({ schema }) => schema) as unknown as SchemasOf<typeof DEFINITIONS>);
export type Cut = z.infer<typeof Cut>;
export type KindName = Cut['kind'];
export type CutOf<K extends KindName> = Extract<Cut, { kind: K }>;

/** How each is planned. */
const MAKERS: { [K in KindName]: CutMaker<CutOf<K>> } = {
  vcarve: vcarveMaker,
  pocket: pocketMaker,
  profile: profileMaker,
  drill: drillMaker,
  engrave: engraveMaker,
  drag: dragMaker,
  recess: recessMaker,
  plug: plugMaker,
  chamfer: chamferMaker,
  texture: textureMaker,
  surface: surfaceMaker,
  torch: torchMaker,
  mark: markMaker,
  'laser-cut': laserCutMaker,
  'laser-score': laserScoreMaker,
  'laser-fill': laserFillMaker,
  'laser-picture': laserPictureMaker,
};

const byName = new Map<string, Definition<BaseCut>>(DEFINITIONS.map((kind) => [kind.kind, kind as unknown as Definition<BaseCut>]));

/** Names of all kinds, in the order they are offered. */
export const KINDS: readonly KindName[] = DEFINITIONS.map(({ kind }) => kind);

/** Kinds that a process makes, in the order they are offered. */
export const kindsOf = (process: ProcessName): KindName[] => KINDS.filter((name) => kindNamed(name).process === process);

/** The definition of a kind. @throws when none is registered under that name */
export function kindNamed(name: string): Definition<BaseCut> {
  const kind = byName.get(name);
  if (!kind) throw new Error(`no kind of cut is called ${name}`);
  return kind;
}

/** What a cut is called: its name, or what it does. */
export const cutName = (cut: Pick<BaseCut, 'kind' | 'name'>): string => cut.name || kindOf(cut).title;

/** The definition of a cut's kind. */
export const kindOf = (cut: Pick<BaseCut, 'kind'>): Definition<BaseCut> => kindNamed(cut.kind);

/** How a cut is planned. */
export const makerOf = (cut: Pick<BaseCut, 'kind'>): CutMaker<BaseCut> => MAKERS[kindNamed(cut.kind).kind as KindName] as unknown as CutMaker<BaseCut>;

/** The table of kinds in docs/job-format.md. */
export const kindTable = (): string =>
  ['| kind | figures of its own |', '|---|---|', ...KINDS.map((name) => `| \`${name}\` | ${kindNamed(name).format} |`)].join('\n');

/** Bits among some that can make a kind of cut, the likeliest first. */
export const bitsFor = (kind: string, bits: Record<string, Bit> | readonly Bit[]): Bit[] =>
  kindNamed(kind).tools.flatMap((wanted) => Object.values(bits).filter((bit) => bit.kind === wanted));

/** What a cut names: tools, and other cuts. */
export function namedBy(cut: BaseCut): { tools: string[]; cuts: string[] } {
  const named = (to: 'tool' | 'cut') =>
    (kindOf(cut).references ?? [])
      .filter((one) => one.to === to)
      .flatMap(({ field }) => ((cut as unknown as Record<string, unknown>)[field] as string | undefined) ?? []);
  return { tools: [cut.tool, ...named('tool')], cuts: named('cut') };
}

/** A cut with other names in its references; a name that is gone takes an optional reference away. */
export function renamed<C extends BaseCut>(cut: C, to: 'tool' | 'cut', rename: (name: string) => string | undefined): C {
  const out = { ...cut } as C & Record<string, unknown>;
  if (to === 'tool') out.tool = rename(cut.tool) ?? cut.tool;
  for (const reference of kindOf(cut).references ?? []) {
    const name = out[reference.field] as string | undefined;
    if (reference.to !== to || name === undefined) continue;
    const next = rename(name);
    if (next !== undefined) (out as Record<string, unknown>)[reference.field] = next;
    else if (!reference.required) delete (out as Record<string, unknown>)[reference.field];
  }
  return out;
}
