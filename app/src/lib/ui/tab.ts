/** One name for this browser tab, kept over a reload: the controls of a machine are held by a person on one screen. */
export function tabName(): string {
  if (typeof sessionStorage === 'undefined') return 'no tab';
  const known = sessionStorage.getItem('kerbe-screen');
  if (known) return known;
  const name = crypto.randomUUID();
  sessionStorage.setItem('kerbe-screen', name);
  return name;
}
