/** Looks that belong to the person, not to the job. */
import { browser } from '$app/environment';

class Prefs {
  mode = $state<'light' | 'dark'>(browser && document.documentElement.dataset.mode === 'dark' ? 'dark' : 'light');

  toggleMode(): void {
    this.mode = this.mode === 'light' ? 'dark' : 'light';
    document.documentElement.dataset.mode = this.mode;
    localStorage.setItem('kerbe-mode', this.mode);
  }
}

export const prefs = new Prefs();
