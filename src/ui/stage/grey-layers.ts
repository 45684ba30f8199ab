import {
  DataArrayTexture,
  LinearFilter,
  LinearMipmapLinearFilter,
  RepeatWrapping,
  RGBAFormat,
  UnsignedByteType,
} from "three";

const GREY = 235;

/** Layers of images that stand again and again in all tiles, grey until they are filled. @param side texels a side */
export function greyLayers(side: number, depth: number): DataArrayTexture {
  const texture = new DataArrayTexture(new Uint8Array(4 * side * side * depth).fill(GREY), side, side, depth);
  texture.format = RGBAFormat;
  texture.type = UnsignedByteType;
  texture.wrapS = RepeatWrapping;
  texture.wrapT = RepeatWrapping;
  texture.magFilter = LinearFilter;
  texture.minFilter = LinearMipmapLinearFilter;
  texture.generateMipmaps = true;
  texture.needsUpdate = true;
  return texture;
}
