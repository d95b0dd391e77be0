/**
 * One name for this browser tab, kept over a reload: the controls of a machine are held by a person on
 * one screen, and saves are told apart by it. A duplicated tab comes with a copy of the name and makes
 * itself another.
 */
const KEY = 'kerbe-screen';

export function tabName(): string {
  if (typeof sessionStorage === 'undefined') return 'no tab';
  const known = sessionStorage.getItem(KEY);
  if (known) return known;
  const name = crypto.randomUUID();
  sessionStorage.setItem(KEY, name);
  return name;
}

/** How long a tab waits for another to say that the name is its own, milliseconds. */
const PATIENCE = 150;

/** Asks the other tabs of this browser whether one of them lives under this name, and takes a new one if so. Answers them from then on. */
export async function claimTabName(): Promise<void> {
  if (typeof BroadcastChannel === 'undefined') return;
  const channel = new BroadcastChannel(KEY);
  // This page, whatever it is called: a reload is another page under the same name.
  const me = crypto.randomUUID();
  let claimed = false;
  const copied = sessionStorage.getItem(KEY) !== null;
  const taken = new Promise<boolean>((done) => {
    channel.onmessage = ({ data }: MessageEvent<{ ask?: string; mine?: string; from: string }>) => {
      if (data.from === me) return;
      // Who asks later gives way; of two that ask at once the smaller number keeps it.
      if (data.ask === tabName() && (claimed || me < data.from)) channel.postMessage({ mine: data.ask, from: me });
      if (data.mine === tabName() && !claimed) done(true);
    };
    if (!copied) return done(false);
    channel.postMessage({ ask: tabName(), from: me });
    setTimeout(() => done(false), PATIENCE);
  });
  if (await taken) sessionStorage.setItem(KEY, crypto.randomUUID());
  claimed = true;
}
