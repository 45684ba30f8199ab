import { CanvasTexture, RepeatWrapping } from "three";

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
