/** What the card of a cut asks, as data: one table for each kind instead of a form. */
import { cuttingWidth, stepOver } from '../bits/index.ts';
import type { Bit } from '../bits/schema.ts';
import type { Board } from '../board/index.ts';
import { formatNumber, type LengthUnit } from '../length/index.ts';

/** What a field may look at. */
export interface CardContext {
  job: { units: LengthUnit; board: Board; tools: Record<string, Bit>; cuts: Record<string, { id: string; name: string }> };
  bit: Bit;
}

export interface Option {
  value: string;
  label: string;
}

interface Asked<C> {
  /** Path into the cut, such as `hold.preload`. */
  key: string;
  label: string;
  /** Asked only then. */
  when?(cut: C, context: CardContext): boolean;
  hint?(cut: C, context: CardContext): string | undefined;
  /** Folded away under this heading. */
  under?: string;
  /** Other fields of the cut that go with a value of this one. */
  brings?(value: unknown): object;
}
export type Field<C> = Asked<C> &
  (
    | { as: 'length'; min: number; /** May be left empty: what then stands there. */ empty?(cut: C, context: CardContext): string }
    | { as: 'number'; unit?: string; min: number; max: number; step?: number }
    | { as: 'choice'; options: readonly Option[] | ((cut: C, context: CardContext) => readonly Option[]) }
    | { as: 'flag' }
  );

export const direction = {
  key: 'direction',
  label: 'Direction',
  as: 'choice' as const,
  options: [
    { value: 'climb', label: 'climb' },
    { value: 'conventional', label: 'conventional' },
  ],
  under: 'Passes',
};
export const depthPerPass = { key: 'depthPerPass', label: 'Depth per pass', as: 'length' as const, min: 0.01 };
export const startDepth = { key: 'startDepth', label: 'Start below the surface', as: 'length' as const, min: 0, under: 'Depth in steps' };
/** Between the passes of a straight bit that clears. */
export const clearingStep = {
  key: 'stepover',
  label: 'Step-over',
  as: 'length' as const,
  min: 0.05,
  empty: (cut: { stepover?: number }, { bit, job }: CardContext) => formatNumber(stepOver(bit, cut.stepover), { unit: job.units }),
  hint: (cut: { stepover?: number }, { bit }: CardContext) =>
    `${Math.round((100 * stepOver(bit, cut.stepover)) / cuttingWidth(bit))} % of the bit’s width${cut.stepover === undefined ? ', as is usual' : ''}.`,
};

/** What stands at a path in a cut. */
export const valueAt = (cut: object, key: string): unknown =>
  key.split('.').reduce<unknown>((at, part) => (at as Record<string, unknown> | undefined)?.[part], cut);

/** Puts a value at a field of a draft, with what it brings along; undefined takes it away. */
export function putAt<C extends object>(cut: C, field: Pick<Field<C>, 'key' | 'brings'>, value: unknown): void {
  const parts = field.key.split('.');
  const last = parts.pop()!;
  const at = parts.reduce<Record<string, unknown>>((inner, part) => inner[part] as Record<string, unknown>, cut as Record<string, unknown>);
  if (value === undefined) delete at[last];
  else at[last] = value;
  Object.assign(cut, field.brings?.(value));
}
