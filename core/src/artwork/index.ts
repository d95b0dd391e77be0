/** Drawn things to regions on the board. */
import type { Region } from '../geometry/index.ts';
import { mapRegion, rectangle, unite } from '../geometry/index.ts';
import type { Item } from '../job/index.ts';
import { finding, type Finding } from '../preflight/findings.ts';
import { drawPath } from './path.ts';
import { faceById, setText, type Font } from './text/index.ts';

/** Gives an opened font by face id, or undefined when it is not there. */
export type FontSource = (face: string) => Font | undefined;

/**
 * The regions of one drawn thing, in board coordinates. Text stands with its alignment point on
 * x (left edge, middle or right edge) and the middle of its first capitals' block on y.
 */
export function itemRegions(item: Item, fonts: FontSource, tolerance: number): { regions: Region[]; findings: Finding[] } {
  const { x, y } = item;
  const moved = (regions: Region[]) => regions.map((region) => mapRegion(region, (px, py) => [px + x, py + y]));
  if (item.kind === 'rectangle') {
    const contour = rectangle(-item.width / 2, -item.height / 2, item.width, item.height, item.radius, tolerance);
    return { regions: moved([{ outer: contour, holes: [] }]), findings: [] };
  }
  if (item.kind === 'path') {
    const drawn = drawPath(item.d, tolerance);
    const findings = drawn.why ? [finding.badPath(item.id, drawn.why)] : [];
    return { regions: moved(unite(drawn.contours, item.fill)), findings };
  }
  if (item.text.trim() === '') return { regions: [], findings: [finding.emptyText(item.id)] };
  const font = fonts(item.face);
  if (!font) return { regions: [], findings: [finding.unknownFace(item.id, item.face)] };
  const set = setText(item, font, tolerance);
  const findings = set.missing.length ? [finding.missingCharacters(item.id, set.missing, faceById(item.face)?.name ?? item.face)] : [];
  const left = item.align === 'left' ? 0 : item.align === 'centre' ? -set.width / 2 : -set.width;
  const middle = ((set.lines - 1) * item.lineSpacing * item.capHeight) / 2 - item.capHeight / 2;
  const regions = set.regions.map((region) => mapRegion(region, (px, py) => [px + x + left, py + y + middle]));
  return { regions, findings };
}
