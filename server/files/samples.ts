import sharp from "sharp";

/** A picture of one colour, as a camera leaves it: with a word of its own beside the pixels. */
export function picture(background: string, { width = 800, height = 500, type = "jpeg" as "jpeg" | "png" } = {}) {
  return sharp({ create: { width, height, channels: 3, background } })
    .withExif({ IFD0: { Copyright: "taken at home" } })
    .toFormat(type)
    .toBuffer();
}
