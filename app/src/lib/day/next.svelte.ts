/** When somebody is needed next, on every screen: asked for each half minute; with a sound and a notice when wished. */
import { beep } from '$lib/ui/beep';
import { ask } from '$lib/ui/post';
import { toaster } from '$lib/ui/toasts';
import { CALL_WORDS, type CalledFor, type DayView } from './view';

const EVERY = 30_000;
const KEY = 'kerbe-tell-me';

class NextCall {
  call = $state.raw<CalledFor | null>(null);
  tells = $state(typeof localStorage !== 'undefined' && localStorage.getItem(KEY) === 'yes');
  private timer: ReturnType<typeof setInterval> | null = null;
  private told = '';

  /** Begins to ask; ends when what it returns is called. */
  follow(): () => void {
    void this.look();
    this.timer ??= setInterval(() => void this.look(), EVERY);
    return () => {
      if (this.timer) clearInterval(this.timer);
      this.timer = null;
    };
  }

  async look(): Promise<void> {
    const answer = await ask<DayView>('/api/day');
    if (answer.ok) this.take(answer.value);
  }

  /** A day that is known already. */
  take({ calls, now }: DayView): void {
    this.call = calls[0] ?? null;
    const due = calls.find(({ at }) => at <= now + 1);
    if (!due || !this.tells || this.told === due.moment + due.task + due.what) return;
    this.told = due.moment + due.task + due.what;
    const title = `${due.machine}: ${CALL_WORDS[due.what]}`;
    beep();
    toaster.create({ title, description: due.task, type: 'info' });
    if (typeof Notification !== 'undefined' && Notification.permission === 'granted') new Notification(title, { body: due.task });
  }

  /** Tells with a sound from now on, and by a notice where the browser lets it; or no more. */
  async tell(on: boolean): Promise<void> {
    this.tells = on;
    localStorage.setItem(KEY, on ? 'yes' : 'no');
    if (on && typeof Notification !== 'undefined' && Notification.permission === 'default') await Notification.requestPermission();
  }
}

export const nextCall = new NextCall();
