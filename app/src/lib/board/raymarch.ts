/**
 * The carved board by ray-marching its height map on WebGL2: true vertical walls, every cell,
 * no mesh. The ray walks a pyramid of highest cells and skips what it passes above.
 */
import { TILE } from '@kerbe/core/proof/tiles';
import type { BoardMap } from '$lib/job/planner';
import { cameraOf, type Size, type View } from './camera';
import type { Look } from '@kerbe/core/proof/looks';

const VERTEX = `#version 300 es
void main() {
  vec2 p = vec2((gl_VertexID << 1) & 2, gl_VertexID & 2);
  gl_Position = vec4(p * 2.0 - 1.0, 0.0, 1.0);
}`;

const FRAGMENT = `#version 300 es
precision highp float;
precision highp sampler2D;
uniform sampler2D heights;
uniform vec2 screen;
uniform vec3 eye;
uniform mat3 camera;
uniform float focal;
uniform vec2 board;
uniform float thickness;
uniform float cell;
uniform ivec2 cells;
uniform int top;
uniform float deepest;
uniform vec3 ground;
uniform float dark;
uniform vec3 pale;
uniform vec3 deep;
/** Strength of the figure, of the fine lines, of the gloss; how long along X the figure is drawn out. */
uniform vec4 look;
/** Paint in what is carved; none when a is 0. */
uniform vec4 paint;
/** What each cell is marked with: 0 nothing; on what grid; and how it is drawn. */
uniform highp usampler2D marks;
uniform int marked;
out vec4 colour;

float at(ivec2 c) { return texelFetch(heights, clamp(c, ivec2(0), cells - 1), 0).r; }

float hash(vec2 p) { return fract(sin(dot(p, vec2(41.3, 289.1))) * 43758.5453); }
float noise(vec2 p) {
  vec2 i = floor(p), f = fract(p);
  f = f * f * (3.0 - 2.0 * f);
  return mix(mix(hash(i), hash(i + vec2(1, 0)), f.x), mix(hash(i + vec2(0, 1)), hash(i + vec2(1, 1)), f.x), f.y);
}
/** Figure of the material: of a flat-sawn board long along X, and running on into the depth of a cut. */
vec3 material(vec3 p) {
  float along = look.w;
  float bend = noise(vec2(p.x * 0.006 * along, p.y * 0.03 + p.z * 0.05)) * 5.0;
  float ring = noise(vec2(p.x * 0.012 * along, (p.y + p.z * 1.7) * 0.55 + bend));
  float fine = noise(vec2(p.x * 0.09 * along, (p.y + p.z) * 7.0));
  return mix(pale, deep, ring * look.x) * (1.0 + look.y * (fine - 0.6));
}

/** Marks are told apart by pattern as well as colour. */
vec3 mark(vec3 base, uint kind, vec3 p) {
  float diagonal = fract((p.x + p.y) / 2.4), other = fract((p.x - p.y) / 2.4), level = fract(p.y / 2.0);
  if (marked == 1) {
    if (kind == 1u) return mix(vec3(0.66, 0.40, 0.02), vec3(0.98, 0.80, 0.45), step(0.5, diagonal));
    return vec3(0.72, 0.10, 0.08);
  }
  uint k = (kind - 1u) % 6u;
  vec3 tint = k == 0u ? vec3(0.10, 0.45, 0.38) : k == 1u ? vec3(0.78, 0.62, 0.20) : k == 2u ? vec3(0.36, 0.34, 0.58) : k == 3u ? vec3(0.70, 0.38, 0.30) : k == 4u ? vec3(0.36, 0.56, 0.22) : vec3(0.25, 0.42, 0.62);
  float line = k % 3u == 0u ? 0.0 : k % 3u == 1u ? step(0.7, diagonal) : step(0.7, min(other, level));
  return mix(mix(base, tint, 0.62), base, 0.5 * line);
}

vec3 shade(vec3 p, vec3 n, vec3 ray, ivec2 c) {
  vec3 light = normalize(vec3(-0.55, -0.32, 0.77));
  float diffuse = max(dot(n, light), 0.0);
  float sky = 0.5 + 0.5 * n.z;
  vec3 base = material(p);
  float down = clamp(-p.z / max(deepest, 0.5), 0.0, 1.0);
  if (paint.a > 0.0 && p.z < -0.02) base = paint.rgb;
  else base *= mix(1.0, 0.62, smoothstep(0.0, 1.0, down));
  if (marked > 0) {
    ivec2 grid = textureSize(marks, 0);
    uint kind = texelFetch(marks, clamp(ivec2(vec2(grid) * p.xy / (vec2(cells) * cell)), ivec2(0), grid - 1), 0).r;
    if (kind > 0u) base = mark(base, kind, p);
  }
  float gloss = look.z * pow(max(dot(reflect(ray, n), light), 0.0), 24.0);
  return (base * (0.46 * sky + 0.66 * diffuse) + gloss) * mix(1.0, 0.86, dark);
}

void main() {
  vec2 q = (gl_FragCoord.xy - 0.5 * screen) / screen.y;
  vec3 ray = normalize(camera * vec3(q, -focal));
  vec3 inverse = 1.0 / (ray + vec3(equal(ray, vec3(0.0))) * 1e-9);
  vec3 lo = (vec3(0.0, 0.0, -thickness) - eye) * inverse;
  vec3 hi = (vec3(board, 0.0) - eye) * inverse;
  vec3 near3 = min(lo, hi), far3 = max(lo, hi);
  float tIn = max(max(near3.x, near3.y), near3.z);
  float tOut = min(min(far3.x, far3.y), far3.z);
  colour = vec4(ground, 1.0);
  if (tIn > tOut || tOut < 0.0) return;
  float t = max(tIn, 0.0);
  vec3 entry = tIn == near3.x ? vec3(-sign(ray.x), 0, 0) : tIn == near3.y ? vec3(0, -sign(ray.y), 0) : vec3(0, 0, 1);
  bool first = true;
  int level = min(top, 6);
  float tiny = cell * 2e-3;
  vec3 wall = entry;
  for (int step = 0; step < 900; step++) {
    vec3 p = eye + ray * (t + tiny);
    float size = cell * float(1 << level);
    ivec2 n = max(cells >> level, ivec2(1));
    ivec2 c = clamp(ivec2(floor(p.xy / size)), ivec2(0), n - 1);
    vec2 c0 = vec2(c) * size;
    vec2 c1 = vec2(c.x == n.x - 1 ? board.x : c0.x + size, c.y == n.y - 1 ? board.y : c0.y + size);
    vec2 ends = (mix(c0, c1, step3(ray)) - eye.xy) * inverse.xy;
    float tExit = min(min(ends.x, ends.y), tOut);
    float high = texelFetch(heights, c, level).r;
    float zEnter = eye.z + ray.z * t;
    float zExit = eye.z + ray.z * tExit;
    if (min(zEnter, zExit) > high) {
      if (tExit >= tOut - 1e-5) break;
      wall = ends.x < ends.y ? vec3(-sign(ray.x), 0, 0) : vec3(0, -sign(ray.y), 0);
      t = max(tExit, t + tiny);
      first = false;
      if (level < top && level < 6) level++;
      continue;
    }
    if (level > 0) { level--; continue; }
    if (high <= -thickness + 1e-3) {
      // Cut through: what lies below shows.
      if (tExit >= tOut - 1e-5) break;
      wall = ends.x < ends.y ? vec3(-sign(ray.x), 0, 0) : vec3(0, -sign(ray.y), 0);
      t = max(tExit, t + tiny);
      first = false;
      continue;
    }
    if (zEnter <= high + 1e-5 && !(first && entry.z > 0.5)) {
      vec3 hit = eye + ray * t;
      vec3 normal = first ? entry : wall;
      if (!first) {
        // A step between neighbours of a slope is not a wall: look at the slope around it.
        vec2 g = vec2(at(c + ivec2(1, 0)) - at(c - ivec2(1, 0)), at(c + ivec2(0, 1)) - at(c - ivec2(0, 1))) / (2.0 * cell);
        if (length(g) < 6.0) normal = normalize(vec3(-g, 1.0));
        else {
          vec2 w = vec2(at(c + ivec2(4, 0)) - at(c - ivec2(4, 0)), at(c + ivec2(0, 4)) - at(c - ivec2(0, 4)));
          normal = normalize(vec3(-w, 0.1 * length(w) + 1e-4));
        }
      }
      colour = vec4(shade(hit, normal, ray, c), 1.0);
      return;
    }
    vec3 hit = eye + ray * ((high - eye.z) / ray.z);
    vec2 g = vec2(at(c + ivec2(1, 0)) - at(c - ivec2(1, 0)), at(c + ivec2(0, 1)) - at(c - ivec2(0, 1))) / (2.0 * cell);
    vec3 normal = length(g) < 6.0 ? normalize(vec3(-g, 1.0)) : vec3(0, 0, 1);
    colour = vec4(shade(hit, normal, ray, c), 1.0);
    return;
  }
  // Through the board: the spoilboard it lies on.
  colour = vec4(vec3(0.47, 0.42, 0.35) * mix(1.0, 0.7, dark), 1.0);
}`.replace('step3(ray)', 'vec2(greaterThan(ray.xy, vec2(0.0)))');

interface Level {
  width: number;
  height: number;
  data: Float32Array;
}

/** The carved board as something a worker draws, whichever way the browser can. */
export interface BoardPicture {
  load(map: BoardMap, board: Size, deepest: number): void;
  /** Tiles of the map that changed since. */
  renew(map: BoardMap, tiles: Uint32Array): void;
  dress(look: Look, paint: readonly [number, number, number] | null): void;
  /** Kinds by cell on a grid of their own; nothing to take them away. */
  mark(marks: { columns: number; rows: number; kinds: Uint8Array; as: 'difference' | 'cuts' } | null): void;
  /** Draws a frame and waits for it. False when there is nothing to draw yet. */
  draw(view: View, width: number, height: number, ground: [number, number, number], dark: boolean): boolean;
}

export class CarvedPicture implements BoardPicture {
  private readonly gl: WebGL2RenderingContext;
  private readonly program: WebGLProgram;
  private readonly heights: WebGLTexture;
  private readonly marks: WebGLTexture;
  private readonly uniforms = new Map<string, WebGLUniformLocation | null>();
  private levels: Level[] = [];
  private cell = 1;
  private board: Size = { width: 1, height: 1, thickness: 1 };
  private deepest = 1;
  private marked = 0;

  /** @throws a sentence when WebGL2 is missing */
  constructor(canvas: OffscreenCanvas) {
    const gl = canvas.getContext('webgl2', { antialias: false });
    if (!gl) throw new Error('This browser has no WebGL2.');
    this.gl = gl;
    this.program = link(gl);
    this.heights = this.texture();
    this.marks = this.texture();
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.R8UI, 1, 1, 0, gl.RED_INTEGER, gl.UNSIGNED_BYTE, new Uint8Array(1));
    gl.useProgram(this.program);
    gl.uniform1i(this.at('heights'), 0);
    gl.uniform1i(this.at('marks'), 1);
  }

  load(map: BoardMap, board: Size, deepest: number): void {
    const { gl } = this;
    this.board = board;
    this.deepest = deepest;
    this.cell = map.cell;
    this.levels = pyramid(map);
    gl.activeTexture(gl.TEXTURE0);
    gl.bindTexture(gl.TEXTURE_2D, this.heights);
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 4);
    this.levels.forEach(({ width, height, data }, level) => gl.texImage2D(gl.TEXTURE_2D, level, gl.R32F, width, height, 0, gl.RED, gl.FLOAT, data));
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAX_LEVEL, this.levels.length - 1);
  }

  renew(map: BoardMap, tiles: Uint32Array): void {
    const { gl } = this;
    const tilesX = Math.ceil(map.columns / TILE);
    gl.activeTexture(gl.TEXTURE0);
    gl.bindTexture(gl.TEXTURE_2D, this.heights);
    this.levels[0].data = map.height;
    for (const tile of tiles) {
      let [x0, y0] = [(tile % tilesX) * TILE, Math.floor(tile / tilesX) * TILE];
      let [x1, y1] = [Math.min(map.columns, x0 + TILE), Math.min(map.rows, y0 + TILE)];
      for (let k = 0; k < this.levels.length; k++) {
        const { width, data } = this.levels[k];
        if (k > 0) {
          // The odd last column and row belong to the cell before them.
          [x0, y0] = [Math.min(this.levels[k].width - 1, x0 >> 1), Math.min(this.levels[k].height - 1, y0 >> 1)];
          [x1, y1] = [Math.min(this.levels[k].width, ((x1 - 1) >> 1) + 1), Math.min(this.levels[k].height, ((y1 - 1) >> 1) + 1)];
          [x1, y1] = [Math.max(x1, x0 + 1), Math.max(y1, y0 + 1)];
          highest(this.levels[k - 1], this.levels[k], x0, y0, x1, y1);
        }
        gl.pixelStorei(gl.UNPACK_ROW_LENGTH, width);
        gl.pixelStorei(gl.UNPACK_SKIP_PIXELS, x0);
        gl.pixelStorei(gl.UNPACK_SKIP_ROWS, y0);
        gl.texSubImage2D(gl.TEXTURE_2D, k, x0, y0, x1 - x0, y1 - y0, gl.RED, gl.FLOAT, data);
      }
    }
    for (const setting of [gl.UNPACK_ROW_LENGTH, gl.UNPACK_SKIP_PIXELS, gl.UNPACK_SKIP_ROWS]) gl.pixelStorei(setting, 0);
  }

  dress({ pale, deep, figure, fine, gloss, along }: Look, paint: readonly [number, number, number] | null): void {
    const { gl } = this;
    gl.useProgram(this.program);
    gl.uniform3f(this.at('pale'), ...pale);
    gl.uniform3f(this.at('deep'), ...deep);
    gl.uniform4f(this.at('look'), figure, fine, gloss, along);
    gl.uniform4f(this.at('paint'), ...(paint ?? [0, 0, 0]), paint ? 1 : 0);
  }

  mark(marks: Parameters<BoardPicture['mark']>[0]): void {
    const { gl } = this;
    this.marked = marks ? (marks.as === 'difference' ? 1 : 2) : 0;
    if (!marks) return;
    gl.activeTexture(gl.TEXTURE1);
    gl.bindTexture(gl.TEXTURE_2D, this.marks);
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 1);
    gl.texImage2D(gl.TEXTURE_2D, 0, gl.R8UI, marks.columns, marks.rows, 0, gl.RED_INTEGER, gl.UNSIGNED_BYTE, marks.kinds);
  }

  draw(view: View, width: number, height: number, ground: [number, number, number], dark: boolean): boolean {
    const { gl, levels, board } = this;
    if (levels.length === 0 || width < 2 || height < 2) return false;
    if (gl.canvas.width !== width || gl.canvas.height !== height) {
      gl.canvas.width = width;
      gl.canvas.height = height;
    }
    gl.viewport(0, 0, width, height);
    gl.useProgram(this.program);
    const { eye, right, up, away, focal } = cameraOf(view, board, width, height);
    gl.uniform2f(this.at('screen'), width, height);
    gl.uniform3f(this.at('eye'), ...eye);
    gl.uniformMatrix3fv(this.at('camera'), false, [...right, ...up, ...away]);
    gl.uniform1f(this.at('focal'), focal);
    gl.uniform2f(this.at('board'), board.width, board.height);
    gl.uniform1f(this.at('thickness'), board.thickness);
    gl.uniform1f(this.at('cell'), this.cell);
    gl.uniform2i(this.at('cells'), levels[0].width, levels[0].height);
    gl.uniform1i(this.at('top'), levels.length - 1);
    gl.uniform1f(this.at('deepest'), Math.min(this.deepest, board.thickness));
    gl.uniform3f(this.at('ground'), ...ground);
    gl.uniform1f(this.at('dark'), dark ? 1 : 0);
    gl.uniform1i(this.at('marked'), this.marked);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
    gl.finish();
    return true;
  }

  private texture(): WebGLTexture {
    const { gl } = this;
    const texture = gl.createTexture()!;
    gl.bindTexture(gl.TEXTURE_2D, texture);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST_MIPMAP_NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_S, gl.CLAMP_TO_EDGE);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_T, gl.CLAMP_TO_EDGE);
    return texture;
  }

  private at(name: string): WebGLUniformLocation | null {
    if (!this.uniforms.has(name)) this.uniforms.set(name, this.gl.getUniformLocation(this.program, name));
    return this.uniforms.get(name)!;
  }
}

/** Level 0 is the map; each further level holds the highest of 2 x 2 cells, odd edges included. */
function pyramid(map: BoardMap): Level[] {
  const levels: Level[] = [{ width: map.columns, height: map.rows, data: map.height }];
  for (let level = levels[0]; level.width > 1 || level.height > 1; level = levels[levels.length - 1]) {
    const width = Math.max(1, level.width >> 1);
    const height = Math.max(1, level.height >> 1);
    const next = { width, height, data: new Float32Array(width * height) };
    highest(level, next, 0, 0, width, height);
    levels.push(next);
  }
  return levels;
}

/** Fills cells x0..x1, y0..y1 (exclusive) of a level from the one below it. */
function highest(from: Level, to: Level, x0: number, y0: number, x1: number, y1: number): void {
  for (let j = y0; j < y1; j++) {
    const j1 = j === to.height - 1 ? from.height - 1 : 2 * j + 1;
    for (let i = x0; i < x1; i++) {
      const i1 = i === to.width - 1 ? from.width - 1 : 2 * i + 1;
      let high = -Infinity;
      for (let b = 2 * j; b <= j1; b++) for (let a = 2 * i; a <= i1; a++) high = Math.max(high, from.data[b * from.width + a]);
      to.data[j * to.width + i] = high;
    }
  }
}

function link(gl: WebGL2RenderingContext): WebGLProgram {
  const program = gl.createProgram()!;
  for (const [type, source] of [
    [gl.VERTEX_SHADER, VERTEX],
    [gl.FRAGMENT_SHADER, FRAGMENT],
  ] as const) {
    const shader = gl.createShader(type)!;
    gl.shaderSource(shader, source);
    gl.compileShader(shader);
    if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) throw new Error(`The carved view could not be set up: ${gl.getShaderInfoLog(shader)}`);
    gl.attachShader(program, shader);
  }
  gl.linkProgram(program);
  if (!gl.getProgramParameter(program, gl.LINK_STATUS)) throw new Error(`The carved view could not be set up: ${gl.getProgramInfoLog(program)}`);
  return program;
}
