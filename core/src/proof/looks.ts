/** What boards look like: two tones and how they are laid over each other. Drawn by eye, no photographs. */
export interface Look {
  name: string;
  /** Red, green, blue, 0 to 1. */
  pale: [number, number, number];
  deep: [number, number, number];
  /** Strength of the figure, of fine lines, of the gloss, 0 to 1. */
  figure: number;
  fine: number;
  gloss: number;
  /** 1 draws the figure out along the board; more makes it short. */
  along: number;
}

export const LOOKS = {
  pine: { name: 'pine', pale: [0.9, 0.76, 0.54], deep: [0.78, 0.58, 0.36], figure: 0.7, fine: 0.1, gloss: 0.02, along: 1 },
  cedar: { name: 'cedar', pale: [0.8, 0.56, 0.39], deep: [0.6, 0.36, 0.24], figure: 0.8, fine: 0.12, gloss: 0.02, along: 1 },
  oak: { name: 'oak', pale: [0.79, 0.64, 0.43], deep: [0.58, 0.42, 0.25], figure: 0.75, fine: 0.28, gloss: 0.03, along: 1.3 },
  walnut: { name: 'walnut', pale: [0.47, 0.33, 0.23], deep: [0.27, 0.17, 0.11], figure: 0.85, fine: 0.16, gloss: 0.05, along: 1.1 },
  ply: { name: 'birch ply', pale: [0.93, 0.83, 0.66], deep: [0.85, 0.71, 0.52], figure: 0.5, fine: 0.08, gloss: 0.03, along: 0.8 },
  mdf: { name: 'MDF', pale: [0.71, 0.58, 0.43], deep: [0.67, 0.54, 0.4], figure: 0.3, fine: 0.1, gloss: 0, along: 70 },
  slate: { name: 'slate', pale: [0.36, 0.39, 0.42], deep: [0.28, 0.31, 0.34], figure: 0.6, fine: 0.12, gloss: 0.06, along: 8 },
  brass: { name: 'brass', pale: [0.82, 0.66, 0.3], deep: [0.74, 0.58, 0.24], figure: 0.3, fine: 0.12, gloss: 0.55, along: 0.1 },
  acrylic: { name: 'acrylic', pale: [0.9, 0.92, 0.92], deep: [0.88, 0.9, 0.9], figure: 0.1, fine: 0, gloss: 0.4, along: 1 },
  steel: { name: 'steel', pale: [0.62, 0.64, 0.66], deep: [0.54, 0.56, 0.59], figure: 0.3, fine: 0.14, gloss: 0.45, along: 0.1 },
} satisfies Record<string, Look>;

export type LookName = keyof typeof LOOKS;

const WORDS: [RegExp, LookName][] = [
  [/cedar|larch|cherry/i, 'cedar'],
  [/oak|ash|elm/i, 'oak'],
  [/walnut|teak/i, 'walnut'],
  [/ply|birch|maple|beech/i, 'ply'],
  [/mdf|fibre|hdf|cork/i, 'mdf'],
  [/slate|stone|grey|gray/i, 'slate'],
  [/brass|bronze|gold/i, 'brass'],
  [/acryl|plastic|pvc|hdpe|foam/i, 'acrylic'],
  [/steel|alumin|zinc|iron/i, 'steel'],
];

/** The look of a material by its name; pine when it says nothing. */
export const lookOf = (material: string): LookName => WORDS.find(([word]) => word.test(material))?.[1] ?? 'pine';
