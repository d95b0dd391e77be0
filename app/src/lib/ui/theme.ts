/** Colours of the theme for what is painted rather than styled: canvases, charts, the solid. */
const PAIRS = {
  ink: ['surface-950', 'surface-50'],
  quiet: ['surface-600', 'surface-400'],
  line: ['surface-300', 'surface-700'],
  hairline: ['surface-200', 'surface-800'],
  sheet: ['surface-50', 'surface-950'],
  bed: ['surface-100', 'surface-900'],
  wood: ['tertiary-200', 'tertiary-800'],
  accent: ['primary-600', 'primary-400'],
  amber: ['warning-600', 'warning-400'],
} as const;
export type Colours = Record<keyof typeof PAIRS, string>;

/** A colour of the theme for styles written by a script, following day and night by itself. */
export const cssColour = (name: keyof Colours): string => `light-dark(var(--color-${PAIRS[name][0]}), var(--color-${PAIRS[name][1]}))`;

/** The colours as they are where `host` stands: by day or by night. */
export function coloursOf(host: Element): Colours {
  const style = getComputedStyle(host);
  const night = style.colorScheme === 'dark' ? 1 : 0;
  return Object.fromEntries(Object.entries(PAIRS).map(([name, pair]) => [name, style.getPropertyValue(`--color-${pair[night]}`).trim()])) as Colours;
}
