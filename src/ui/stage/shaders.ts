import { ROW } from "./texel-table";

/** Marks of a face or of its whole shell, as bits. */
export const SELECTED = 1;
export const HOVERED = 2;
export const UNMAPPED = 4;
/** Left out while others are isolated. */
export const LEFT_OUT = 8;

/** Tiles across and up whose numbers the swatch of tile numbers holds. */
export const TILES_ACROSS = 10;

export const VIEW_NUMBER = { shaded: 0, swatch: 1, stretch: 2, tints: 3 } as const;

const COMMON = /* glsl */ `
precision highp float;
precision highp int;
precision highp sampler2D;
precision highp usampler2D;
precision highp sampler2DArray;
ivec2 texel(uint i) { return ivec2(int(i) % ${ROW}, int(i) / ${ROW}); }
`;

/** Where parts are, and whether they are shown in the pane. */
const PLACES = /* glsl */ `
uniform sampler2D places;
in uint part;
vec4 placeTexel(uint row) { return texelFetch(places, texel(4u * part + row), 0); }
mat4 placeOfPart() { return transpose(mat4(placeTexel(0u), placeTexel(1u), placeTexel(2u), vec4(0.0, 0.0, 0.0, 1.0))); }
bool isShown() {
#ifdef SHEET
  return placeTexel(3u).y > 0.5;
#else
  return placeTexel(3u).x > 0.5;
#endif
}
const vec4 NOWHERE = vec4(2.0, 2.0, 2.0, 1.0);
uniform mat4 viewMatrix;
uniform mat4 projectionMatrix;
uniform sampler2D points;
uniform sampler2D uvs;
/** Before the eye: a point of Sheet at u and v; of Form a vertex by its number, under its part's place. */
vec4 eyePoint(vec2 uv, uint vertexNumber) {
#ifdef SHEET
  return viewMatrix * vec4(uv, 0.0, 1.0);
#else
  return viewMatrix * placeOfPart() * vec4(texelFetch(points, texel(vertexNumber), 0).xyz, 1.0);
#endif
}
`;

/** Where a corner lies: its vertex under the part's place in Form, its wedge's point in Sheet. */
const FACE_ATTRIBUTES = /* glsl */ `
${COMMON}
${PLACES}
uniform usampler2D faceShell;
uniform sampler2D faceMarks;
uniform sampler2D shells;
in uint vertex;
in uint wedge;
in uint face;
int marksOf(vec4 shell) {
  return int(shell.a * 255.0 + 0.5) | int(texelFetch(faceMarks, texel(face), 0).r * 255.0 + 0.5);
}
vec4 shellOf() { return texelFetch(shells, texel(texelFetch(faceShell, texel(face), 0).r), 0); }
/** Faces that are nowhere in the pane go out of sight. */
vec4 screen(vec4 eye, int marks) {
  if (!isShown() || (marks & ${LEFT_OUT}) != 0) return NOWHERE;
#ifdef SHEET
  if ((marks & ${UNMAPPED}) != 0) return NOWHERE;
#endif
  return projectionMatrix * eye;
}
`;

export const FACE_VERTEX = /* glsl */ `
${FACE_ATTRIBUTES}
in vec3 normal;
uniform sampler2D stretches;
uniform usampler2D faceMaterial;
uniform sampler2D materials;
out vec2 vUv;
flat out int vPicture;
out vec3 vNormal;
out vec3 vView;
out vec3 vEye;
flat out float vStretch;
flat out vec3 vTint;
flat out vec4 vColor;
flat out int vMarks;
void main() {
  vec4 shell = shellOf();
  vMarks = marksOf(shell);
  vTint = shell.rgb;
  vColor = texelFetch(materials, texel(texelFetch(faceMaterial, texel(face), 0).r), 0);
  vStretch = texelFetch(stretches, texel(uint(gl_VertexID / 3)), 0).r;
  vUv = texelFetch(uvs, texel(wedge), 0).rg;
  vPicture = int(placeTexel(3u).w);
  vec4 eye = eyePoint(vUv, vertex);
#ifdef SHEET
  vNormal = vec3(0.0, 0.0, 1.0);
#else
  // The cofactors of the place turn normals as its inverse transposed does, whatever its scale.
  mat3 m = mat3(placeOfPart());
  vNormal = mat3(viewMatrix) * (mat3(cross(m[1], m[2]), cross(m[2], m[0]), cross(m[0], m[1])) * normal);
#endif
  // In parallel view all lines of sight run alike.
  vEye = eye.xyz;
  vView = projectionMatrix[3][3] > 0.5 ? vec3(0.0, 0.0, 1.0) : -eye.xyz;
  gl_Position = screen(eye, vMarks);
}
`;

export const FACE_FRAGMENT = /* glsl */ `
${COMMON}
in vec2 vUv;
flat in int vPicture;
in vec3 vNormal;
in vec3 vView;
in vec3 vEye;
flat in float vStretch;
flat in vec3 vTint;
flat in vec4 vColor;
flat in int vMarks;
uniform int view;
uniform int shading;
uniform vec3 light;
uniform sampler2D swatch;
uniform sampler2DArray images;
uniform sampler2DArray pictures;
uniform bool tiled;
uniform int relief;
uniform float repeats;
uniform vec2 range;
uniform vec3 paper;
uniform vec3 selected;
uniform vec3 hovered;
out vec4 color;
const vec3 POOL = vec3(0.118, 0.498, 0.525);
const vec3 PAPER = vec3(0.957, 0.937, 0.886);
const vec3 PAPRIKA = vec3(0.71, 0.251, 0.118);
const vec3 CLAY = vec3(0.84, 0.74, 0.64);
const vec3 STEEL = vec3(0.62, 0.61, 0.6);
const vec3 SLATE = vec3(0.34, 0.36, 0.42);
vec3 stretchColor(float s) {
  float low = clamp(log(s) / log(range.x), 0.0, 1.0);
  float high = clamp(log(s) / log(range.y), 0.0, 1.0);
  return s < 1.0 ? mix(PAPER, POOL, low) : mix(PAPER, PAPRIKA, high);
}
/** What the swatch, or the part's own picture, is at the point; of tile numbers the field of its tile. */
vec3 swatchColor() {
  vec2 at = vUv * repeats;
  if (vPicture > 0) return texture(pictures, vec3(at, float(vPicture - 1))).rgb;
  if (!tiled) return texture(swatch, at).rgb;
  vec2 field = clamp(floor(vUv), 0.0, ${TILES_ACROSS - 1}.0);
  // Fields lie beside each other: how fine it is drawn follows from the point itself, which does not jump between them.
  return textureGrad(swatch, (field + fract(at)) / ${TILES_ACROSS}.0, dFdx(at) / ${TILES_ACROSS}.0, dFdy(at) / ${TILES_ACROSS}.0).rgb;
}
#ifndef SHEET
/**
 * The normal that a picture of normals gives a point: its axes follow u and v as they run over the surface there.
 * Source of the axes: M. S. Mikkelsen, Bump mapping unparametrized surfaces on the GPU (2010).
 */
vec3 carved(vec3 n) {
  vec3 right = cross(dFdy(vEye), n);
  vec3 up = cross(n, dFdx(vEye));
  vec2 du = dFdx(vUv);
  vec2 dv = dFdy(vUv);
  vec3 t = right * du.x + up * dv.x;
  vec3 b = right * du.y + up * dv.y;
  float size = inversesqrt(max(max(dot(t, t), dot(b, b)), 1e-30));
  return normalize(mat3(t * size, b * size, n) * (swatchColor() * 2.0 - 1.0));
}
#endif
void main() {
  bool bare = (vMarks & ${UNMAPPED}) != 0;
  int layer = int(vColor.a * 255.0 + 0.5) - 1;
  vec3 cloth = layer >= 0 && !bare ? texture(images, vec3(vUv, float(layer))).rgb : vColor.rgb;
  vec3 base = view == 0 ? cloth : vTint;
  float alpha = 1.0;
#ifdef SHEET
  if (view == 0) base = mix(cloth, paper, layer >= 0 ? 0.15 : 0.45);
  alpha = 0.86;
#endif
  if (view == 1 && !bare) base = swatchColor();
  if (view == 2) base = bare ? vec3(0.8) : stretchColor(vStretch);
  if (bare && view != 0) {
    float stripe = step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 12.0));
    base = mix(vec3(0.83, 0.81, 0.76), vec3(0.74, 0.72, 0.67), stripe);
  }
#ifdef SHEET
  if (!gl_FrontFacing) {
    // Chevrons: a mirrored shell shows by pattern, whatever its colour.
    vec2 p = gl_FragCoord.xy / 14.0;
    float chevron = step(0.62, fract(p.y + abs(fract(p.x) - 0.5)));
    base = mix(base, vec3(0.56, 0.37, 0.05), chevron * 0.75);
  }
#else
  vec3 n = normalize(vNormal);
  vec3 eye = normalize(vView);
  if (dot(n, eye) < 0.0) n = -n;
  // A picture of normals is lit and not shown: on cloth of one colour, with a sheen that shows which way it runs.
  if (view == 1 && !bare && (relief == 2 || (relief == 1 && vPicture > 0))) {
    n = carved(n);
    base = STEEL + 0.3 * pow(max(0.0, dot(reflect(-eye, n), light)), 12.0);
  }
  if (view == 0 && shading == 2) base = CLAY;
  if (view == 0 && shading == 3) base = SLATE;
  if (shading != 1) base *= 0.42 + 0.5 * max(0.0, dot(n, light)) + 0.16 * max(0.0, n.z);
  // Bright strips, as of lamps above and beside: they bend wherever the surface does.
  if (shading == 3) {
    vec3 r = reflect(-eye, n);
    base += 0.5 * smoothstep(0.9, 0.97, dot(r, light)) + 0.22 * smoothstep(0.75, 0.9, sin(9.0 * r.y + 2.0 * r.x));
  }
#endif
  if ((vMarks & ${SELECTED}) != 0) base = mix(base, selected, 0.38);
  else if ((vMarks & ${HOVERED}) != 0) base = mix(base, hovered, 0.3);
  color = vec4(base, alpha);
}
`;

/** Writes the number of every drawn face, counted from 1, as four bytes. */
export const PICK_VERTEX = /* glsl */ `
${FACE_ATTRIBUTES}
flat out uint vId;
void main() {
  vId = uint(int(placeTexel(3u).z) + int(face) + 1);
  gl_Position = screen(eyePoint(texelFetch(uvs, texel(wedge), 0).rg, vertex), marksOf(shellOf()));
}
`;

export const PICK_FRAGMENT = /* glsl */ `
${COMMON}
flat in uint vId;
out vec4 color;
void main() {
  color = vec4(float(vId & 255u), float((vId >> 8) & 255u), float((vId >> 16) & 255u), float(vId >> 24)) / 255.0;
}
`;

export const HATCH_VERTEX = /* glsl */ `
precision highp float;
in vec3 position;
void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }
`;

export const HATCH_FRAGMENT = /* glsl */ `
precision highp float;
out vec4 color;
void main() {
  float stripe = step(0.55, fract((gl_FragCoord.x - gl_FragCoord.y) / 9.0));
  color = vec4(0.71, 0.25, 0.12, mix(0.25, 0.95, stripe));
}
`;

/** A point by its number, before the eye: of a vertex under its part's place in Form, of a wedge in Sheet. */
const POINT_LOOKUP = /* glsl */ `
${COMMON}
${PLACES}
vec4 eyeOf(uint i) { return eyePoint(texelFetch(uvs, texel(i), 0).rg, i); }
/** A little nearer to the eye on the same ray: what lies on a face is seen, what lies behind it is not. */
vec4 nearer(vec4 eye) {
#ifdef SHEET
  return eye;
#else
  // In parallel view the ray runs straight ahead.
  return vec4(projectionMatrix[3][3] > 0.5 ? eye.xy : eye.xy * 0.9985, eye.z * 0.9985, 1.0);
#endif
}
`;

/** Lines one pixel wide. */
export const WIRE_VERTEX = /* glsl */ `
${POINT_LOOKUP}
in uint end;
void main() { gl_Position = isShown() ? projectionMatrix * eyeOf(end) : NOWHERE; }
`;

export const PLAIN_FRAGMENT = /* glsl */ `
precision highp float;
uniform vec4 ink;
out vec4 color;
void main() { color = ink; }
`;

export const DOT_VERTEX = /* glsl */ `
${POINT_LOOKUP}
in uint end;
uniform float size;
#ifdef WEIGHTED
in float weight;
out float share;
#endif
void main() {
  gl_Position = isShown() ? projectionMatrix * nearer(eyeOf(end)) : NOWHERE;
  gl_PointSize = size;
#ifdef WEIGHTED
  share = weight;
#endif
}
`;

export const DOT_FRAGMENT = /* glsl */ `
precision highp float;
uniform vec4 ink;
#ifdef WEIGHTED
in float share;
#endif
out vec4 color;
void main() {
#ifndef SQUARE
  if (length(gl_PointCoord - 0.5) > 0.5) discard;
#endif
  color = ink;
#ifdef WEIGHTED
  color.a *= 0.12 + 0.88 * share;
#endif
}
`;

/**
 * Firm lines as quads that face the screen. `along` tells where a seam's ticks are, in ticks: where the edge begins and
 * how long it is; both zero where there are none. A first entry below zero marks a border.
 */
export const LINE_VERTEX = /* glsl */ `
${POINT_LOOKUP}
in vec2 corner;
in uvec2 ends;
in vec2 along;
uniform vec2 resolution;
uniform vec2 widths;
uniform float tick;
out float vAcross;
out float vAlong;
flat out float vSpacing;
flat out int vBorder;
void main() {
  if (!isShown()) { gl_Position = NOWHERE; return; }
  vec4 a = eyeOf(ends.x);
  vec4 b = eyeOf(ends.y);
#ifndef SHEET
  // What lies behind the eye has no place on the screen: the line ends shortly before it.
  if (projectionMatrix[3][3] < 0.5) {
    float near = -1e-3 * max(length(a.xyz), length(b.xyz));
    if (a.z > near && b.z > near) { gl_Position = NOWHERE; return; }
    if (a.z > near) a = mix(a, b, (a.z - near) / (a.z - b.z));
    if (b.z > near) b = mix(b, a, (b.z - near) / (b.z - a.z));
  }
#endif
  vec4 p = projectionMatrix * nearer(a);
  vec4 q = projectionMatrix * nearer(b);
  vec2 from = p.xy / p.w * resolution * 0.5;
  vec2 to = q.xy / q.w * resolution * 0.5;
  float reach = distance(from, to);
  vec2 way = reach > 0.0 ? (to - from) / reach : vec2(1.0, 0.0);
  vBorder = along.x < 0.0 ? 1 : 0;
  vSpacing = along.y != 0.0 ? reach / abs(along.y) : 0.0;
  float width = vBorder == 1 ? widths.y : widths.x;
  float half_ = max(width * 0.5, vSpacing > 0.0 ? tick : 0.0) + 1.0;
  // A pixel is added at both ends, so that lines which meet leave no gap.
  float lead = width * 0.3;
  vec2 at = mix(from - way * lead, to + way * lead, corner.x) + vec2(-way.y, way.x) * corner.y * half_;
  vAcross = corner.y * half_;
  vAlong = along.x + along.y * corner.x;
  vec4 end = corner.x < 0.5 ? p : q;
  gl_Position = vec4(at / (resolution * 0.5) * end.w, end.z, end.w);
}
`;

export const LINE_FRAGMENT = /* glsl */ `
precision highp float;
precision highp int;
in float vAcross;
in float vAlong;
flat in float vSpacing;
flat in int vBorder;
uniform vec2 widths;
uniform float tick;
uniform vec4 ink;
uniform vec4 borderInk;
out vec4 color;
void main() {
  float width = vBorder == 1 ? widths.y : widths.x;
  float line = clamp(width * 0.5 + 0.5 - abs(vAcross), 0.0, 1.0);
  // Basting thread: short ticks across, as long as there is room between them.
  float away = abs(fract(vAlong) - 0.5) * vSpacing;
  float thread = vSpacing > 4.0 ? clamp(1.2 - away, 0.0, 1.0) * clamp(tick + 0.5 - abs(vAcross), 0.0, 1.0) : 0.0;
  float cover = max(line, thread);
  if (cover <= 0.0) discard;
  color = vBorder == 1 ? borderInk : ink;
  color.a *= cover;
}
`;
