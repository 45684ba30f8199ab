declare module "maxrects-packer/dist/maxrects-packer.mjs" {
  export { MaxRectsPacker } from "maxrects-packer";
}
