/** Looks that belong to the person, not to the job. */

class Prefs {
  mode = $state<'light' | 'dark'>(typeof document !== 'undefined' && document.documentElement.dataset.mode === 'dark' ? 'dark' : 'light');

  toggleMode(): void {
    this.mode = this.mode === 'light' ? 'dark' : 'light';
    document.documentElement.dataset.mode = this.mode;
    localStorage.setItem('kerbe-mode', this.mode);
  }
}

export const prefs = new Prefs();
