/** Where the eye stands over the carved board: from board to screen and back. */
import type { BoardMap } from '$lib/job/planner';

export interface View {
  /** Radians round the board, and above it. */
  yaw: number;
  pitch: number;
  /** Distance as a multiple of the board's longer side. */
  distance: number;
  /** What is looked at: shares of the board's width and height. */
  x: number;
  y: number;
}

type Vector = readonly [number, number, number];

export interface Camera {
  eye: Vector;
  right: Vector;
  up: Vector;
  away: Vector;
  focal: number;
  width: number;
  height: number;
}

export interface Size {
  width: number;
  height: number;
  thickness: number;
}

const FOCAL = 1.9;

export function cameraOf(view: View, board: Size, width: number, height: number): Camera {
  // As wide and as deep as the board looks from there, so that all of it is in the picture.
  const [cos, sin] = [Math.abs(Math.cos(view.yaw)), Math.abs(Math.sin(view.yaw))];
  const wide = cos * board.width + sin * board.height;
  const deep = (sin * board.width + cos * board.height) * Math.sin(view.pitch) + board.thickness * Math.cos(view.pitch);
  const reach = Math.max(wide, (deep * width) / height) * view.distance;
  const away: Vector = [Math.sin(view.yaw) * Math.cos(view.pitch), -Math.cos(view.yaw) * Math.cos(view.pitch), Math.sin(view.pitch)];
  const d = reach * FOCAL * (height / width);
  const right: Vector = [Math.cos(view.yaw), Math.sin(view.yaw), 0];
  return {
    eye: [view.x * board.width + away[0] * d, view.y * board.height + away[1] * d, -board.thickness / 2 + away[2] * d],
    right,
    up: [away[1] * right[2] - away[2] * right[1], away[2] * right[0] - away[0] * right[2], away[0] * right[1] - away[1] * right[0]],
    away,
    focal: FOCAL,
    width,
    height,
  };
}

const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** A point of the board on the screen, pixels from the upper left, and how many pixels a millimetre has there. */
export function project({ eye, right, up, away, focal, width, height }: Camera, point: Vector): { x: number; y: number; scale: number } {
  const from: Vector = [point[0] - eye[0], point[1] - eye[1], point[2] - eye[2]];
  const scale = (focal * height) / -dot(from, away);
  return { x: width / 2 + dot(from, right) * scale, y: height / 2 - dot(from, up) * scale, scale };
}

/** The place on the carved surface under a pixel; nothing beside the board. */
export function pick(camera: Camera, map: BoardMap, board: Size, px: number, py: number): [number, number] | null {
  const { eye, right, up, away, focal, width, height } = camera;
  const [u, v] = [(px - width / 2) / height, (height / 2 - py) / height];
  const ray = [0, 1, 2].map((k) => right[k] * u + up[k] * v - away[k] * focal);
  const size = Math.hypot(...ray);
  const [dx, dy, dz] = ray.map((part) => part / size);
  if (dz >= -1e-6) return null;
  // From where it meets the top down to the bottom, a cell at a time.
  const end = (-board.thickness - eye[2]) / dz;
  const step = (map.cell * 0.7) / Math.max(0.2, Math.hypot(dx, dy));
  for (let t = -eye[2] / dz; t <= end + step; t += step) {
    const [x, y, z] = [eye[0] + dx * t, eye[1] + dy * t, eye[2] + dz * t];
    if (x < 0 || y < 0 || x > board.width || y > board.height) continue;
    const i = Math.min(map.columns - 1, Math.floor(x / map.cell));
    const j = Math.min(map.rows - 1, Math.floor(y / map.cell));
    if (z <= map.height[j * map.columns + i] + 1e-6 || z <= -board.thickness) return [x, y];
  }
  return null;
}
