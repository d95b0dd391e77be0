/** What is being cut, in words. */
import type { Job } from '@kerbe/core/job';
import type { ProgramSpan } from '@kerbe/core/program';

/** The drawn thing of a span: a letter of words, or a thing by its name; '' when nobody knows. */
export const thingOf = ({ item, letter }: Pick<ProgramSpan, 'item' | 'letter'>, items: Job['items']): string =>
  letter ? `letter ${letter}` : item === undefined ? '' : (items[item]?.name ?? '');

/** The same with what is done to it: `letter R · V-carve`. */
export const saidOf = (span: ProgramSpan, items: Job['items']): string => [thingOf(span, items), span.label].filter(Boolean).join(' · ');
