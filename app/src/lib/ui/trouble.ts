/** What goes wrong in this browser, told to the server's log, with what was being done; the person is told what to do. */
import { toaster } from './toasts';
import { COMMON } from '$lib/labels/common';

/** As often as one page tells it; a fault that comes again and again is the same fault. */
const MOST = 5;
const told = new Set<string>();
/** What was pressed last, by its name: never what was typed. */
let last = '';

/** Tells the server's log, once for each fault. @param doing what was being done, in a few words */
export function tellTrouble(error: unknown, doing = last && `after “${last}”`): void {
  const { message, stack = '' } = error instanceof Error ? error : new Error(String(error));
  if (told.has(message) || told.size >= MOST) return;
  told.add(message);
  const body = JSON.stringify({
    message: message.slice(0, 500),
    stack: stack.slice(0, 6000),
    page: location.pathname.slice(0, 300),
    doing: doing.slice(0, 300),
  });
  void fetch('/api/troubles', { method: 'POST', headers: { 'content-type': 'application/json' }, body, keepalive: true }).catch(() => {});
}

const words = (target: EventTarget | null): string => {
  const pressed = target instanceof Element ? target.closest('button, a, summary') : null;
  return (pressed?.getAttribute('aria-label') ?? pressed?.textContent ?? '').trim().slice(0, 80);
};

/** Listens for what nobody caught. */
export function reportTroubles(): void {
  addEventListener('click', ({ target }) => (last = words(target) || last), { capture: true, passive: true });
  const said = (error: unknown) => {
    const fresh = !told.has(error instanceof Error ? error.message : String(error));
    tellTrouble(error);
    if (fresh)
      toaster.error({
        title: COMMON.somethingWentWrongOnThis,
        description: COMMON.whatYouChangedIsKept,
      });
  };
  addEventListener('error', ({ error }) => error && said(error));
  addEventListener('unhandledrejection', ({ reason }) => said(reason));
}
