/** What the board draws with, of Konva: the whole of it would be twice as much to load. */
import 'konva/lib/Core.js';

export { Group } from 'konva/lib/Group.js';
export { Layer } from 'konva/lib/Layer.js';
export { Shape } from 'konva/lib/Shape.js';
export { Stage } from 'konva/lib/Stage.js';
export { Circle } from 'konva/lib/shapes/Circle.js';
export { Line } from 'konva/lib/shapes/Line.js';
export { Rect } from 'konva/lib/shapes/Rect.js';
export { Ring } from 'konva/lib/shapes/Ring.js';
export { Transformer } from 'konva/lib/shapes/Transformer.js';
