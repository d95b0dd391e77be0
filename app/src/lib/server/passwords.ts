/** How good a password is, and the hashing of it - a few at a time, so that many wrong ones do not keep everything busy. */
import { dictionary } from '@zxcvbn-ts/language-common';
import { hashPassword, verifyPassword } from 'better-auth/crypto';

const LEAST = 10;
const MOST = 128;
/** Fewer different characters than this are a pattern. */
const DIFFERENT = 5;
const COMMON = new Set(dictionary['passwords-common']);

/** What is left of a password when years, digits and signs at its ends are taken away: `Password2024!` is `password`. */
const bare = (password: string): string => password.toLowerCase().replace(/^[^a-z]+|[^a-z]+$/g, '');

/** Why a password will not do, in words, or null. @param own words that belong to its person: name, address */
export function passwordFault(password: string, own: readonly string[] = []): string | null {
  if (password.length < LEAST) return `A password has at least ten characters.`;
  if (password.length > MOST) return 'That password is too long: 128 characters at most.';
  if (new Set(password).size < DIFFERENT) return 'That password has too few different characters.';
  const words = [...own.flatMap((word) => word.toLowerCase().split(/[@.\s]+/)), 'kerbe'].filter((word) => word.length > 2);
  const lower = password.toLowerCase();
  if (COMMON.has(lower) || COMMON.has(bare(password)) || words.includes(bare(password)))
    return 'That password is among the first that are tried. Take a few words that do not belong together.';
  return null;
}

/** Hashings at a time, and how many may wait for their turn. */
const AT_ONCE = 2;
const MOST_WAITING = 20;
let busy = 0;
const waiting: (() => void)[] = [];

/** Too many come in just now. */
export class Crowded extends Error {}

async function inTurn<T>(work: () => Promise<T>): Promise<T> {
  if (busy >= AT_ONCE) {
    if (waiting.length >= MOST_WAITING) throw new Crowded('Too many people sign in just now. Try again in a moment.');
    await new Promise<void>((go) => waiting.push(go));
  } else busy++;
  try {
    return await work();
  } finally {
    const next = waiting.shift();
    if (next) next();
    else busy--;
  }
}

export const hashInTurn = (password: string): Promise<string> => inTurn(() => hashPassword(password));
export const verifyInTurn = ({ hash, password }: { hash: string; password: string }): Promise<boolean> => inTurn(() => verifyPassword({ hash, password }));
