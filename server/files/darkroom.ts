import PQueue from "p-queue";
import sharp, { type Sharp } from "sharp";
import { PICTURE_PIXELS } from "#core/text/files.ts";

/** So long one picture may take, in seconds. */
const TIME = 10;

/** Pictures are worked one at a time: the threads they are worked in also judge passwords and read files. */
const queue = new PQueue({ concurrency: 1 });

/** Works on a picture when its turn has come. */
export const inDarkroom = <T>(work: () => Promise<T>): Promise<T> => queue.add(work);

/** A picture to be read: with an end to its pixels and to the time it takes, and none that is broken. */
export const opened = (bytes: Buffer): Sharp =>
  sharp(bytes, { limitInputPixels: PICTURE_PIXELS, failOn: "error" }).timeout({ seconds: TIME });
