/**
 * The faces that ship with Kerbe. All are under the SIL Open Font License 1.1; the licence
 * texts stand in licences/faces. `file` is the path inside node_modules: core itself never
 * reads files, whoever calls it passes the bytes.
 */
export interface Face {
  id: string;
  name: string;
  style: 'serif' | 'slab' | 'script' | 'condensed' | 'sans' | 'stencil';
  file: string;
}

/** Id and name of our own single-line alphabet, which is drawn in `stroke.ts` and is no font file. */
export const SINGLE_LINE = 'single-line';

const face = (id: string, name: string, style: Face['style'], pack: string, weight = 400): Face => ({
  id,
  name,
  style,
  file: `@fontsource/${pack}/files/${pack}-latin-${weight}-normal.woff`,
});

export const FACES: readonly Face[] = [
  face('cinzel', 'Cinzel Bold', 'serif', 'cinzel', 700),
  face('playfair', 'Playfair Display Bold', 'serif', 'playfair-display', 700),
  face('dm-serif', 'DM Serif Display', 'serif', 'dm-serif-display'),
  face('abril', 'Abril Fatface', 'serif', 'abril-fatface'),
  face('zilla', 'Zilla Slab Bold', 'slab', 'zilla-slab', 700),
  face('alfa', 'Alfa Slab One', 'slab', 'alfa-slab-one'),
  face('lobster', 'Lobster', 'script', 'lobster'),
  face('vibes', 'Great Vibes', 'script', 'great-vibes'),
  face('bebas', 'Bebas Neue', 'sans', 'bebas-neue'),
  face('barlow', 'Barlow Condensed Semibold', 'condensed', 'barlow-condensed', 600),
  face('stardos', 'Stardos Stencil Bold', 'stencil', 'stardos-stencil', 700),
  face('saira', 'Saira Stencil One', 'stencil', 'saira-stencil-one'),
];

export const faceById = (id: string): Face | undefined => FACES.find((face) => face.id === id);
