import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { faceById, openFont, type Font } from '@kerbe/core/artwork/text';

const require = createRequire(import.meta.url);
const opened = new Map<string, Font>();

/** Opens a shipped face from node_modules, once. */
export function fontSource(id: string): Font | undefined {
  const face = faceById(id);
  if (!face) return undefined;
  let font = opened.get(id);
  if (!font) {
    font = openFont(readFileSync(require.resolve(face.file)));
    opened.set(id, font);
  }
  return font;
}
