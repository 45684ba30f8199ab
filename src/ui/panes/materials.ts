import {
  AlwaysStencilFunc,
  CanvasTexture,
  ColorManagement,
  type DataArrayTexture,
  type DataTexture,
  DoubleSide,
  GLSL3,
  IncrementWrapStencilOp,
  KeepStencilOp,
  LessStencilFunc,
  RepeatWrapping,
  ShaderMaterial,
} from "three";
import { HIDDEN, HOVERED, ROW, SELECTED, UNMAPPED } from "./scene";

// All colours here are meant as they are written: nothing is converted on the way to the screen.
ColorManagement.enabled = false;

export const VIEW_NUMBER = { shaded: 0, swatch: 1, stretch: 2, tints: 3 } as const;

const COMMON = /* glsl */ `
precision highp float;
precision highp sampler2D;
precision highp sampler2DArray;
ivec2 texel(float id) { int i = int(id + 0.5); return ivec2(i % ${ROW}, i / ${ROW}); }
`;

const VERTEX = /* glsl */ `
${COMMON}
in float ids;
in float stretch;
uniform sampler2D faceState;
uniform sampler2D faceColor;
out vec2 vUv;
out float vStretch;
out vec3 vNormal;
out vec3 vView;
flat out vec3 vTint;
flat out vec3 vColor;
flat out int vLayer;
flat out int vMarks;
flat out float vId;
void main() {
  vec4 state = texelFetch(faceState, texel(ids), 0);
  vMarks = int(state.a * 255.0 + 0.5);
  vTint = state.rgb;
  vec4 dye = texelFetch(faceColor, texel(ids), 0);
  vColor = dye.rgb;
  vLayer = int(dye.a * 255.0 + 0.5) - 1;
  vUv = uv;
  vStretch = stretch;
  vId = ids;
  bool gone = (vMarks & ${HIDDEN}) != 0;
#ifdef SHEET
  gone = gone || (vMarks & ${UNMAPPED}) != 0;
  vec4 place = modelViewMatrix * vec4(uv, 0.0, 1.0);
  vNormal = vec3(0.0, 0.0, 1.0);
#else
  vec4 place = modelViewMatrix * vec4(position, 1.0);
  vNormal = normalMatrix * normal;
#endif
  vView = -place.xyz;
  gl_Position = gone ? vec4(2.0, 2.0, 2.0, 1.0) : projectionMatrix * place;
}
`;

const FRAGMENT = /* glsl */ `
${COMMON}
in vec2 vUv;
in float vStretch;
in vec3 vNormal;
in vec3 vView;
flat in vec3 vTint;
flat in vec3 vColor;
flat in int vLayer;
flat in int vMarks;
uniform int view;
uniform sampler2D swatch;
uniform sampler2DArray images;
uniform float repeats;
uniform vec2 range;
out vec4 color;
const vec3 POOL = vec3(0.118, 0.498, 0.525);
const vec3 PAPER = vec3(0.957, 0.937, 0.886);
const vec3 PAPRIKA = vec3(0.71, 0.251, 0.118);
const vec3 SUMAC = vec3(0.557, 0.141, 0.286);
vec3 stretchColor(float s) {
  float low = clamp(log(s) / log(range.x), 0.0, 1.0);
  float high = clamp(log(s) / log(range.y), 0.0, 1.0);
  return s < 1.0 ? mix(PAPER, POOL, low) : mix(PAPER, PAPRIKA, high);
}
void main() {
  bool bare = (vMarks & ${UNMAPPED}) != 0;
  vec3 cloth = vLayer >= 0 && !bare ? texture(images, vec3(vUv, float(vLayer))).rgb : vColor;
  vec3 base = view == 0 ? cloth : vTint;
  float alpha = 1.0;
#ifdef SHEET
  if (view == 0) base = mix(cloth, vec3(1.0), vLayer >= 0 ? 0.15 : 0.45);
  alpha = 0.86;
#endif
  if (view == 1 && !bare) base = texture(swatch, vUv * repeats).rgb;
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
  float light = 0.42 + 0.5 * max(0.0, dot(n, normalize(vec3(-0.35, 0.6, 0.75)))) + 0.16 * max(0.0, n.z);
  base *= light;
#endif
  if ((vMarks & ${SELECTED}) != 0) base = mix(base, SUMAC, 0.38);
  else if ((vMarks & ${HOVERED}) != 0) base = mix(base, POOL, 0.3);
  color = vec4(base, alpha);
}
`;

const PICK_FRAGMENT = /* glsl */ `
${COMMON}
flat in float vId;
out vec4 color;
void main() {
  int id = int(vId + 0.5) + 1;
  color = vec4(float(id & 255), float((id >> 8) & 255), float((id >> 16) & 255), 255.0) / 255.0;
}
`;

const HATCH_FRAGMENT = /* glsl */ `
precision highp float;
out vec4 color;
void main() {
  float stripe = step(0.55, fract((gl_FragCoord.x - gl_FragCoord.y) / 9.0));
  color = vec4(0.71, 0.25, 0.12, mix(0.25, 0.95, stripe));
}
`;

export interface FaceTextures {
  readonly state: DataTexture;
  /** Colour, and the layer of the image laid on, counted from 1. */
  readonly color: DataTexture;
  readonly images: DataArrayTexture;
}

/** The material that draws faces in either pane. In Sheet every fragment counts up the stencil, so that overlap shows. */
export function faceMaterial(pane: "form" | "sheet", textures: FaceTextures, swatch: CanvasTexture): ShaderMaterial {
  return new ShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: VERTEX,
    fragmentShader: FRAGMENT,
    defines: pane === "sheet" ? { SHEET: 1 } : {},
    uniforms: {
      faceState: { value: textures.state },
      faceColor: { value: textures.color },
      swatch: { value: swatch },
      images: { value: textures.images },
      repeats: { value: 1 },
      view: { value: 0 },
      range: { value: [1 / 1.25, 1.25] },
    },
    side: DoubleSide,
    transparent: pane === "sheet",
    depthTest: pane === "form",
    depthWrite: pane === "form",
    polygonOffset: pane === "form",
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 2,
    ...(pane === "sheet"
      ? {
          stencilWrite: true,
          stencilFunc: AlwaysStencilFunc,
          stencilZPass: IncrementWrapStencilOp,
          stencilFail: KeepStencilOp,
        }
      : {}),
  });
}

/** Writes the number of every face instead of a colour. */
export function pickMaterial(pane: "form" | "sheet", textures: FaceTextures): ShaderMaterial {
  return new ShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: VERTEX,
    fragmentShader: PICK_FRAGMENT,
    defines: pane === "sheet" ? { SHEET: 1 } : {},
    uniforms: {
      faceState: { value: textures.state },
      faceColor: { value: textures.color },
    },
    side: DoubleSide,
    depthTest: pane === "form",
    depthWrite: pane === "form",
  });
}

/** Hatch wherever more than one face was drawn. */
export function hatchMaterial(): ShaderMaterial {
  return new ShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: "void main() { gl_Position = vec4(position.xy, 0.0, 1.0); }",
    fragmentShader: HATCH_FRAGMENT,
    transparent: true,
    depthTest: false,
    depthWrite: false,
    stencilWrite: true,
    stencilFunc: LessStencilFunc,
    stencilRef: 1,
    stencilZPass: KeepStencilOp,
  });
}

/** The calibration checker: eight by eight cells with letters across and numbers up, a dot where it begins. */
export function swatchTexture(): CanvasTexture {
  const side = 1024;
  const cell = side / 8;
  const canvas = document.createElement("canvas");
  canvas.width = side;
  canvas.height = side;
  const pen = canvas.getContext("2d")!;
  const dyes = ["#f6f0e2", "#d9c9a6"];
  pen.textAlign = "center";
  pen.textBaseline = "middle";
  pen.font = `600 ${cell * 0.36}px "Figtree Variable", sans-serif`;
  for (let row = 0; row < 8; row++)
    for (let column = 0; column < 8; column++) {
      const [x, y] = [column * cell, side - (row + 1) * cell];
      pen.fillStyle = dyes[(row + column) % 2]!;
      pen.fillRect(x, y, cell, cell);
      pen.strokeStyle = "#22252e33";
      pen.lineWidth = 2;
      pen.strokeRect(x + 1, y + 1, cell - 2, cell - 2);
      pen.fillStyle = (row + column) % 2 ? "#2e3a87" : "#8e2449";
      pen.fillText(`${String.fromCharCode(65 + column)}${row + 1}`, x + cell / 2, y + cell / 2 + 2);
      pen.fillStyle = "#22252e88";
      pen.fillRect(x + cell * 0.08, y + cell * 0.88, cell * 0.18, cell * 0.04);
      pen.fillRect(x + cell * 0.08, y + cell * 0.74, cell * 0.04, cell * 0.18);
    }
  const texture = new CanvasTexture(canvas);
  texture.wrapS = RepeatWrapping;
  texture.wrapT = RepeatWrapping;
  texture.anisotropy = 8;
  texture.generateMipmaps = true;
  return texture;
}
