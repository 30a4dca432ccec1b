import { buffer } from "node:stream/consumers";
import { fromBuffer } from "yauzl";

/** The files of a ZIP by their names, in order, as somebody else's reader finds them. */
export const unzipped = (bytes: Buffer): Promise<Map<string, Buffer>> =>
  new Promise((done, fail) => {
    const found = new Map<string, Buffer>();
    fromBuffer(bytes, { lazyEntries: true }, (error, zip) => {
      if (error) return fail(error);
      zip.on("entry", (entry) =>
        zip.openReadStream(entry, async (amiss, stream) => {
          if (amiss) return fail(amiss);
          found.set(entry.fileName, await buffer(stream));
          zip.readEntry();
        }),
      );
      zip.on("end", () => done(found));
      zip.on("error", fail);
      zip.readEntry();
    });
  });
