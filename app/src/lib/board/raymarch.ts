/**
 * The carved board by ray-marching its height map on WebGL2: true vertical walls, every cell,
 * no mesh. The ray walks a pyramid of highest cells and skips what it passes above.
 */
import type { PlanView } from '$lib/job/planner';

export interface View {
  /** Radians round the board, and above it. */
  yaw: number;
  pitch: number;
  /** Distance as a multiple of the board's longer side. */
  distance: number;
}

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
out vec4 colour;

float at(ivec2 c) { return texelFetch(heights, clamp(c, ivec2(0), cells - 1), 0).r; }

float hash(vec2 p) { return fract(sin(dot(p, vec2(41.3, 289.1))) * 43758.5453); }
float noise(vec2 p) {
  vec2 i = floor(p), f = fract(p);
  f = f * f * (3.0 - 2.0 * f);
  return mix(mix(hash(i), hash(i + vec2(1, 0)), f.x), mix(hash(i + vec2(0, 1)), hash(i + vec2(1, 1)), f.x), f.y);
}
/** Grain of a flat-sawn board: long figures along X that run on into the depth of a cut. */
vec3 wood(vec3 p) {
  float bend = noise(vec2(p.x * 0.006, p.y * 0.03 + p.z * 0.05)) * 5.0;
  float ring = noise(vec2(p.x * 0.012, (p.y + p.z * 1.7) * 0.55 + bend));
  float fine = noise(vec2(p.x * 0.09, (p.y + p.z) * 7.0));
  vec3 pale = vec3(0.87, 0.72, 0.52), deep = vec3(0.71, 0.52, 0.33);
  return mix(pale, deep, ring * 0.75) * (0.94 + 0.1 * fine);
}

vec3 shade(vec3 p, vec3 n, vec3 ray) {
  vec3 light = normalize(vec3(-0.55, -0.32, 0.77));
  float diffuse = max(dot(n, light), 0.0);
  float sky = 0.5 + 0.5 * n.z;
  vec3 base = wood(p);
  float down = clamp(-p.z / max(deepest, 0.5), 0.0, 1.0);
  base *= mix(1.0, 0.62, smoothstep(0.0, 1.0, down));
  return base * (0.46 * sky + 0.66 * diffuse) * mix(1.0, 0.86, dark);
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
      colour = vec4(shade(hit, normal, ray), 1.0);
      return;
    }
    vec3 hit = eye + ray * ((high - eye.z) / ray.z);
    vec2 g = vec2(at(c + ivec2(1, 0)) - at(c - ivec2(1, 0)), at(c + ivec2(0, 1)) - at(c - ivec2(0, 1))) / (2.0 * cell);
    vec3 normal = length(g) < 6.0 ? normalize(vec3(-g, 1.0)) : vec3(0, 0, 1);
    colour = vec4(shade(hit, normal, ray), 1.0);
    return;
  }
  // Through the board: the spoilboard it lies on.
  colour = vec4(vec3(0.47, 0.42, 0.35) * mix(1.0, 0.7, dark), 1.0);
}`.replace('step3(ray)', 'vec2(greaterThan(ray.xy, vec2(0.0)))');

export class CarvedPicture {
  private readonly gl: WebGL2RenderingContext;
  private readonly program: WebGLProgram;
  private readonly texture: WebGLTexture;
  private readonly uniforms = new Map<string, WebGLUniformLocation | null>();
  private map: PlanView['map'] | null = null;
  private board = { width: 1, height: 1, thickness: 1 };
  private deepest = 1;

  /** Throws a sentence when WebGL2 is missing. */
  constructor(canvas: OffscreenCanvas) {
    const gl = canvas.getContext('webgl2', { antialias: false });
    if (!gl) throw new Error('This browser has no WebGL2, so the carved view is not available. The plan and the section show the same figures.');
    this.gl = gl;
    this.program = link(gl);
    this.texture = gl.createTexture()!;
    gl.bindTexture(gl.TEXTURE_2D, this.texture);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST_MIPMAP_NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_S, gl.CLAMP_TO_EDGE);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_T, gl.CLAMP_TO_EDGE);
  }

  load(map: PlanView['map'], board: { width: number; height: number; thickness: number }, deepest: number): void {
    const { gl } = this;
    this.map = map;
    this.board = board;
    this.deepest = deepest;
    gl.bindTexture(gl.TEXTURE_2D, this.texture);
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 4);
    map.levels.forEach(({ width, height, data }, level) => gl.texImage2D(gl.TEXTURE_2D, level, gl.R32F, width, height, 0, gl.RED, gl.FLOAT, data));
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAX_LEVEL, map.levels.length - 1);
  }

  /** Draws a frame and waits for it. False when there is nothing to draw yet. */
  draw(view: View, width: number, height: number, ground: [number, number, number], dark: boolean): boolean {
    const { gl, map, board } = this;
    if (!map || width < 2 || height < 2) return false;
    if (gl.canvas.width !== width || gl.canvas.height !== height) {
      gl.canvas.width = width;
      gl.canvas.height = height;
    }
    gl.viewport(0, 0, width, height);
    gl.useProgram(this.program);
    const focal = 1.9;
    // As wide and as deep as the board looks from there, so that all of it is in the picture.
    const [cos, sin] = [Math.abs(Math.cos(view.yaw)), Math.abs(Math.sin(view.yaw))];
    const wide = cos * board.width + sin * board.height;
    const deep = (sin * board.width + cos * board.height) * Math.sin(view.pitch) + board.thickness * Math.cos(view.pitch);
    const reach = Math.max(wide, (deep * width) / height) * view.distance;
    const away = [Math.sin(view.yaw) * Math.cos(view.pitch), -Math.cos(view.yaw) * Math.cos(view.pitch), Math.sin(view.pitch)];
    const d = reach * focal * (height / width);
    const eye = [board.width / 2 + away[0] * d, board.height / 2 + away[1] * d, -board.thickness / 2 + away[2] * d];
    const right = [Math.cos(view.yaw), Math.sin(view.yaw), 0];
    const up = [away[1] * right[2] - away[2] * right[1], away[2] * right[0] - away[0] * right[2], away[0] * right[1] - away[1] * right[0]];
    gl.uniform2f(this.at('screen'), width, height);
    gl.uniform3f(this.at('eye'), eye[0], eye[1], eye[2]);
    gl.uniformMatrix3fv(this.at('camera'), false, [...right, ...up, ...away]);
    gl.uniform1f(this.at('focal'), focal);
    gl.uniform2f(this.at('board'), board.width, board.height);
    gl.uniform1f(this.at('thickness'), board.thickness);
    gl.uniform1f(this.at('cell'), map.cell);
    gl.uniform2i(this.at('cells'), map.columns, map.rows);
    gl.uniform1i(this.at('top'), map.levels.length - 1);
    gl.uniform1f(this.at('deepest'), Math.min(this.deepest, board.thickness));
    gl.uniform3f(this.at('ground'), ...ground);
    gl.uniform1f(this.at('dark'), dark ? 1 : 0);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
    gl.finish();
    return true;
  }

  private at(name: string): WebGLUniformLocation | null {
    if (!this.uniforms.has(name)) this.uniforms.set(name, this.gl.getUniformLocation(this.program, name));
    return this.uniforms.get(name)!;
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
