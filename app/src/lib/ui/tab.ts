/**
 * One name for this browser tab, the part behind its dot a secret of it, kept over a reload: the controls of a machine are held by a person on
 * one screen, and saves are told apart by it. A duplicated tab comes with a copy of the name and makes
 * itself another.
 */
const KEY = 'kerbe-screen';

export function tabName(): string {
  if (typeof sessionStorage === 'undefined') return 'no tab';
  const known = sessionStorage.getItem(KEY);
  if (known) return known;
  const name = newName();
  sessionStorage.setItem(KEY, name);
  return name;
}

/** The part of the name that every screen may see. */
export const shownName = (name: string): string => name.split('.', 1)[0];

const newName = () => `${randomWord()}.${randomWord()}`;
/** Random, also where the page is not a secure one and has no randomUUID. */
const randomWord = () => [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, '0')).join('');

/** A page that is reloaded may still be leaving when the new one comes: it is asked once more after so long, milliseconds. */
const LEAVING = 200;

/** Holds a name for as long as this page lives; false when another living page holds it. */
const hold = (name: string): Promise<boolean> =>
  new Promise((done) => {
    void navigator.locks.request(`${KEY} ${name}`, { ifAvailable: true }, (lock) => {
      done(lock !== null);
      return lock ? new Promise<void>(() => {}) : undefined;
    });
  });

/** Makes sure that no other living tab has this one's name; one that was copied with its tab is made anew. */
export async function claimTabName(): Promise<void> {
  // Where there are no locks - no secure page - a copied tab keeps the copied name.
  if (!globalThis.navigator?.locks) return;
  if (await hold(tabName())) return;
  await new Promise((done) => setTimeout(done, LEAVING));
  if (await hold(tabName())) return;
  sessionStorage.setItem(KEY, newName());
  await hold(tabName());
}
