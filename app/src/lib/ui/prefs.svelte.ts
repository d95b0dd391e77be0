/** Looks that belong to the person, not to the job. */

/** A list of words this browser keeps; an unreadable one is none. */
function kept(name: string): string[] {
  try {
    const list: unknown = JSON.parse(localStorage.getItem(name) ?? '[]');
    return Array.isArray(list) ? list.filter((word) => typeof word === 'string') : [];
  } catch {
    return [];
  }
}

class Prefs {
  mode = $state<'light' | 'dark'>(typeof document !== 'undefined' && document.documentElement.dataset.mode === 'dark' ? 'dark' : 'light');

  /** Faces kept at the top of the list, and those used last, newest first. */
  likedFaces = $state<string[]>(kept('kerbe-liked-faces'));
  lastFaces = $state<string[]>(kept('kerbe-last-faces'));

  likeFace(id: string): void {
    this.likedFaces = this.likedFaces.includes(id) ? this.likedFaces.filter((other) => other !== id) : [...this.likedFaces, id];
    localStorage.setItem('kerbe-liked-faces', JSON.stringify(this.likedFaces));
  }

  useFace(id: string): void {
    this.lastFaces = [id, ...this.lastFaces.filter((other) => other !== id)].slice(0, 4);
    localStorage.setItem('kerbe-last-faces', JSON.stringify(this.lastFaces));
  }

  toggleMode(): void {
    this.mode = this.mode === 'light' ? 'dark' : 'light';
    document.documentElement.dataset.mode = this.mode;
    localStorage.setItem('kerbe-mode', this.mode);
  }
}

export const prefs = new Prefs();
