/** Length of a vector of three, for hot loops: `Math.hypot` guards against overflow and takes ten times as long. */
export const length3 = (x: number, y: number, z: number): number => Math.sqrt(x * x + y * y + z * z);
