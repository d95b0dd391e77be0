/** Commands by name and by key: one list for the palette and the keyboard. */

export interface Command {
  id: string;
  label: string;
  /** Other words a person may look for it by. */
  words?: readonly string[];
  /** Keys as tinykeys writes them: `$mod+k`, `Alt+Digit1`, `]`. */
  bind?: string;
  /** Other keys that do the same and are not shown. */
  also?: readonly string[];
  /** Shown in place of the keys, where they work only somewhere. */
  hint?: string;
  /** Works while a person types in a field, too: always, or where what was typed last has been taken and nothing since. */
  always?: boolean;
  settled?: boolean;
  run: () => void;
}

/** Keys as people read them: `Ctrl Shift Z`, `Alt 1`, `?`. */
export function shownKeys({ bind, hint }: Pick<Command, 'bind' | 'hint'>): string | undefined {
  if (hint || !bind) return hint;
  if (bind === 'Shift+?') return '?';
  const word = (part: string) => (part === '$mod' ? 'Ctrl' : part.startsWith('Digit') ? part.slice(5) : part.length === 1 ? part.toUpperCase() : part);
  return bind.split('+').map(word).join(' ');
}

/** @param settled a field in which nothing stands but what was taken does not count */
const typing = (event: KeyboardEvent, settled = false) =>
  (event.target as HTMLElement).closest(`input${settled ? ':not([data-settled])' : ''}, textarea, select, [contenteditable=true]`) !== null;

/** What tinykeys listens for. A field that is typed in keeps its keys, but for commands that work always. */
export function bindingsOf(commands: readonly Command[]): Record<string, (event: KeyboardEvent) => void> {
  return Object.fromEntries(
    commands.flatMap(({ bind, also = [], always, settled, run }) =>
      (bind ? [bind, ...also] : []).map((keys) => [
        keys,
        (event: KeyboardEvent) => {
          // What the board or a dialog has taken is not done twice.
          if (event.defaultPrevented || (!always && typing(event, settled))) return;
          event.preventDefault();
          run();
        },
      ]),
    ),
  );
}
