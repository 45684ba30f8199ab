import {
  AlwaysStencilFunc,
  ColorManagement,
  type DataArrayTexture,
  DoubleSide,
  GLSL3,
  IncrementWrapStencilOp,
  KeepStencilOp,
  LessStencilFunc,
  RawShaderMaterial,
  type ShaderMaterialParameters,
  type Texture,
  type Vector2,
} from "three";
import type { Pane } from "../session/store";
import type { Chunk } from "./chunk";
import type { StageColors } from "./colors";
import {
  DOT_FRAGMENT,
  DOT_VERTEX,
  FACE_FRAGMENT,
  FACE_VERTEX,
  HATCH_FRAGMENT,
  HATCH_VERTEX,
  LINE_FRAGMENT,
  LINE_VERTEX,
  PICK_FRAGMENT,
  PICK_VERTEX,
  PLAIN_FRAGMENT,
  WIRE_VERTEX,
} from "./shaders";

// All colours here are meant as they are written: nothing is converted on the way to the screen.
ColorManagement.enabled = false;

/** Lines and dots by what they mark. */
export type Marking = "locked" | "seams" | "picked" | "preview" | "worst" | "hover";

/** Half a tick of the basting thread, pixels, by pane. */
const TICK = { form: 3.4, sheet: 3 } as const;
const WIDTHS: Readonly<Record<Pane, Readonly<Record<Marking, readonly [line: number, border: number]>>>> = {
  form: { locked: [7, 0], seams: [2.4, 1.2], picked: [3.6, 0], preview: [3, 0], worst: [2.6, 0], hover: [3, 0] },
  sheet: { locked: [6, 0], seams: [1.6, 1.2], picked: [3.6, 0], preview: [3, 0], worst: [2.6, 0], hover: [3, 0] },
};

const NO_TABLES = () => ({ points: { value: null }, uvs: { value: null }, places: { value: null } });

function material(pane: Pane, vertex: string, fragment: string, more: ShaderMaterialParameters): RawShaderMaterial {
  return new RawShaderMaterial({
    glslVersion: GLSL3,
    vertexShader: vertex,
    fragmentShader: fragment,
    defines: pane === "sheet" ? { SHEET: 1 } : {},
    // In Sheet all lies in one plane, drawn in order.
    depthTest: pane === "form",
    depthWrite: pane === "form",
    ...more,
  });
}

/**
 * The materials of a pane, one of each kind for all chunks: what a chunk's shaders look up is put in place right before it
 * is drawn.
 */
export class PaneMaterials {
  readonly faces: RawShaderMaterial;
  readonly ids: RawShaderMaterial;
  readonly wires: RawShaderMaterial;
  /** Marks where faces lie on each other; in Sheet only. */
  readonly hatch: RawShaderMaterial | null;
  readonly lines: Readonly<Record<Marking, RawShaderMaterial>>;
  readonly dots: Readonly<Record<"picked" | "hover" | "weights" | "pins", RawShaderMaterial>>;

  private themeSeam: readonly number[] = [0, 0, 0];
  /** The colour of seams that was chosen in place of the theme's. */
  private ownSeam: readonly number[] | null = null;

  constructor(
    private readonly pane: Pane,
    private readonly resolution: Vector2,
  ) {
    const tables = () => ({
      ...NO_TABLES(),
      faceShell: { value: null },
      faceMarks: { value: null },
      shells: { value: null },
    });
    this.faces = material(pane, FACE_VERTEX, FACE_FRAGMENT, {
      uniforms: {
        ...tables(),
        stretches: { value: null },
        faceMaterial: { value: null },
        materials: { value: null },
        swatch: { value: null },
        images: { value: null },
        pictures: { value: null },
        tiled: { value: false },
        repeats: { value: 1 },
        relief: { value: 0 },
        view: { value: 0 },
        shading: { value: 0 },
        light: { value: [0, 0, 1] },
        range: { value: [1 / 1.25, 1.25] },
        paper: { value: [1, 1, 1] },
        selected: { value: [0, 0, 0] },
        hovered: { value: [0, 0, 0] },
      },
      side: DoubleSide,
      transparent: pane === "sheet",
      polygonOffset: pane === "form",
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 2,
      // In Sheet every fragment counts up the stencil, so that overlap shows.
      ...(pane === "sheet"
        ? {
            stencilWrite: true,
            stencilFunc: AlwaysStencilFunc,
            stencilZPass: IncrementWrapStencilOp,
            stencilFail: KeepStencilOp,
          }
        : {}),
    });
    this.ids = material(pane, PICK_VERTEX, PICK_FRAGMENT, { uniforms: tables(), side: DoubleSide });
    this.wires = material(pane, WIRE_VERTEX, PLAIN_FRAGMENT, {
      uniforms: { ...NO_TABLES(), ink: { value: [0, 0, 0, 1] } },
      transparent: true,
      depthWrite: false,
    });
    this.hatch =
      pane === "form"
        ? null
        : material(pane, HATCH_VERTEX, HATCH_FRAGMENT, {
            transparent: true,
            stencilWrite: true,
            stencilFunc: LessStencilFunc,
            stencilRef: 1,
            stencilZPass: KeepStencilOp,
          });
    const line = (marking: Marking) => this.line(marking);
    this.lines = {
      locked: line("locked"),
      seams: line("seams"),
      picked: line("picked"),
      preview: line("preview"),
      worst: line("worst"),
      hover: line("hover"),
    };
    this.dots = this.allDots();
  }

  private allDots() {
    const [weights, pins] = [this.dot({ WEIGHTED: 1 }), this.dot({ SQUARE: 1 })];
    return { picked: this.dot(), hover: this.dot(), weights, pins };
  }

  private line(marking: Marking): RawShaderMaterial {
    return material(this.pane, LINE_VERTEX, LINE_FRAGMENT, {
      uniforms: {
        ...NO_TABLES(),
        resolution: { value: this.resolution },
        widths: { value: WIDTHS[this.pane][marking] },
        tick: { value: TICK[this.pane] },
        ink: { value: [0, 0, 0, 1] },
        borderInk: { value: [0, 0, 0, 1] },
      },
      transparent: true,
      depthWrite: false,
      side: DoubleSide,
    });
  }

  private dot(defines: Readonly<Record<string, number>> = {}): RawShaderMaterial {
    const made = material(this.pane, DOT_VERTEX, DOT_FRAGMENT, {
      uniforms: { ...NO_TABLES(), size: { value: 7 }, ink: { value: [0, 0, 0, 1] } },
      transparent: true,
      depthWrite: false,
    });
    Object.assign(made.defines, defines);
    return made;
  }

  private get all(): RawShaderMaterial[] {
    const { faces, ids, wires, hatch, lines, dots } = this;
    return [faces, ids, wires, ...(hatch ? [hatch] : []), ...Object.values(lines), ...Object.values(dots)];
  }

  setColors(c: StageColors): void {
    const ink = (m: RawShaderMaterial, color: readonly number[], alpha = 1) => {
      m.uniforms.ink!.value = [...color, alpha];
    };
    ink(this.wires, c.ink, this.pane === "form" ? 0.2 : 0.14);
    this.themeSeam = c.seam;
    ink(this.lines.seams, this.ownSeam ?? c.seam);
    for (const marking of ["picked", "preview", "hover"] as const) ink(this.lines[marking], c[marking]);
    // Locked seams lie on a ribbon.
    ink(this.lines.locked, c.seam, 0.3);
    ink(this.lines.worst, c.ink);
    ink(this.dots.picked, c.picked);
    ink(this.dots.hover, c.hover);
    ink(this.dots.weights, c.picked);
    ink(this.dots.pins, c.seam);
    this.lines.seams.uniforms.borderInk!.value = [...c.border, 1];
    const { uniforms } = this.faces;
    uniforms.paper!.value = c.paper;
    uniforms.selected!.value = c.picked;
    uniforms.hovered!.value = c.hover;
  }

  /** Whether and how seams are drawn. @param width times the width they come with @param color null for the theme's */
  setSeams(shown: boolean, width: number, color: readonly number[] | null): void {
    const { seams, locked } = this.lines;
    seams.visible = shown;
    locked.visible = shown;
    seams.uniforms.widths!.value = WIDTHS[this.pane].seams.map((w) => w * width);
    seams.uniforms.tick!.value = TICK[this.pane] * Math.sqrt(width);
    this.ownSeam = color;
    seams.uniforms.ink!.value = [...(color ?? this.themeSeam), 1];
  }

  /** How faces look: what they show, and of what. */
  setFaces(values: Readonly<Record<string, number | boolean | readonly number[] | Texture | DataArrayTexture>>): void {
    for (const [name, value] of Object.entries(values)) this.faces.uniforms[name]!.value = value;
  }

  /** Dots keep their size on screens with finer pixels. */
  setPixelRatio(ratio: number): void {
    for (const m of Object.values(this.dots)) m.uniforms.size!.value = 7 * ratio;
  }

  dispose(): void {
    for (const m of this.all) m.dispose();
  }
}

/** Puts what a chunk's shaders look up in place, right before something of it is drawn. */
export function lookUp(chunk: Chunk, m: RawShaderMaterial): void {
  for (const [name, texture] of Object.entries(chunk.uniforms)) {
    const uniform = m.uniforms[name];
    if (uniform) uniform.value = texture;
  }
  m.uniformsNeedUpdate = true;
}
