/** The shop's own clock: minutes from the midnight a plan begins with, and moments as forms write them. */
import type { ShopHours } from '@kerbe/core/day/planning';

const timeOf = (text: string): number => Number(text.slice(0, 2)) * 60 + Number(text.slice(3, 5));

/** When somebody is in, for so many days from the one that begins at midnight `first`; minutes from there. */
export function openSpans({ from, to, days }: ShopHours, first: Date, count: number): { from: number; to: number }[] {
  return Array.from({ length: count }, (_, k) => k)
    .filter((k) => days.includes((first.getDay() + k) % 7))
    .map((k) => ({ from: k * 1440 + timeOf(from), to: k * 1440 + timeOf(to) }))
    .filter((span) => span.to > span.from);
}

/** Midnight before a moment, by the clock of where this runs. */
export const midnight = (at: Date): Date => new Date(at.getFullYear(), at.getMonth(), at.getDate());

/** Minutes from midnight `first` to a moment of the shop's own clock. A day has 1,440, also when the clocks change. */
export function minuteOf(moment: string, first: Date): number {
  const [date, time] = moment.split('T');
  const [year, month, day] = date.split('-').map(Number);
  return Math.round((Date.UTC(year, month - 1, day) - Date.UTC(first.getFullYear(), first.getMonth(), first.getDate())) / 60_000) + timeOf(time);
}

/** The other way: the moment that lies so many minutes after midnight `first`. */
export function momentOf(minute: number, first: Date): string {
  const day = new Date(Date.UTC(first.getFullYear(), first.getMonth(), first.getDate()) + Math.floor(minute / 1440) * 86_400_000);
  const rest = Math.floor(((minute % 1440) + 1440) % 1440);
  return `${day.toISOString().slice(0, 10)}T${String(Math.floor(rest / 60)).padStart(2, '0')}:${String(rest % 60).padStart(2, '0')}`;
}
