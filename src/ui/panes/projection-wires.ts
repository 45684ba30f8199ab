import type { Standing, Vector } from "@/core/project/frame";

/** Points of a circle. */
const ROUND = 48;

/** Lines in the axes of a frame that show what a projection takes a form for. */
export function wiresOf({ kind, reach, capsFrom }: Pick<Standing, "kind" | "reach" | "capsFrom">): Vector[][] {
  const [x, y, z] = reach;
  const radius = Math.sqrt(x * x + y * y) / Math.SQRT2;
  const ball = Math.sqrt((x * x + y * y + z * z) / 3);
  switch (kind) {
    case "flat":
      return [rectangle(x, y, z)];
    case "cylinder":
      return [ring(radius, z), ring(radius, -z), ...uprights(radius, z)];
    case "sphere":
      return [ring(ball, 0), meridian(ball, 0, TURN), meridian(ball, TURN / 4, TURN)];
    case "capped sphere":
      return [
        ...[1, -1].map((side) => ring(ball * Math.cos(capsFrom), side * ball * Math.sin(capsFrom))),
        meridian(ball, 0, TURN),
        meridian(ball, TURN / 4, TURN),
      ];
    case "disc":
      return [ring(radius, -z), dome(radius, z, 0), dome(radius, z, TURN / 4)];
    default:
      return [
        rectangle(x, y, z),
        rectangle(x, y, -z),
        ...CORNERS.map(([i, j]): Vector[] => [
          [i * x, j * y, -z],
          [i * x, j * y, z],
        ]),
      ];
  }
}

const TURN = 2 * Math.PI;
const CORNERS = [
  [-1, -1],
  [1, -1],
  [1, 1],
  [-1, 1],
] as const;

function rectangle(x: number, y: number, z: number): Vector[] {
  return [...CORNERS, CORNERS[0]].map(([i, j]) => [i * x, j * y, z]);
}

const around = (count: number, at: (share: number) => Vector): Vector[] =>
  Array.from({ length: count + 1 }, (_, k) => at(k / count));

const ring = (radius: number, z: number): Vector[] =>
  around(ROUND, (s) => [radius * Math.cos(TURN * s), radius * Math.sin(TURN * s), z]);

const uprights = (radius: number, z: number): Vector[][] =>
  [0, 1, 2, 3].map((k) => {
    const [x, y] = [radius * Math.cos((TURN * k) / 4), radius * Math.sin((TURN * k) / 4)];
    return [
      [x, y, -z],
      [x, y, z],
    ];
  });

const meridian = (radius: number, about: number, far: number): Vector[] =>
  around(ROUND, (s) => {
    const [across, up] = [radius * Math.cos(far * s), radius * Math.sin(far * s)];
    return [across * Math.cos(about), across * Math.sin(about), up];
  });

/** Half a circle over the base, from one side to the other. */
const dome = (radius: number, z: number, about: number): Vector[] =>
  around(ROUND / 2, (s) => {
    const [across, up] = [radius * Math.cos((TURN / 2) * s), 2 * z * Math.sin((TURN / 2) * s) - z];
    return [across * Math.cos(about), across * Math.sin(about), up];
  });
