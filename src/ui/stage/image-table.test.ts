import { describe, expect, it } from "vitest";
import { layerOf, MOST_IMAGES, sideOfImages } from "./image-table";

const images = Array.from({ length: 300 }, (_, i) => ({ key: `k${i}`, name: `${i}.png`, type: "image/png" }));

describe("layers of images", () => {
  it("are the image's own, and none where there are more than can be drawn: never another image's", () => {
    expect(layerOf(images, "k0")).toBe(1);
    expect(layerOf(images, "k64")).toBe(65);
    expect(layerOf(images, `k${MOST_IMAGES - 1}`)).toBe(MOST_IMAGES);
    expect(layerOf(images, `k${MOST_IMAGES}`)).toBe(0);
    expect(layerOf(images, "elsewhere")).toBe(0);
  });

  it("stay within 70 MB however many there are, and are as fine as that allows", () => {
    for (const count of [1, 16, 17, 64, 65, MOST_IMAGES])
      expect(4 * sideOfImages(count) ** 2 * count).toBeLessThanOrEqual(70e6);
    expect([1, 16, 17, 64, 67].map(sideOfImages)).toEqual([1024, 1024, 512, 512, 256]);
  });
});
