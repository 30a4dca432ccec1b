import { mkdtempSync, readdirSync, rmSync, truncateSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { crc32 } from "node:zlib";
import sharp from "sharp";
import { picture } from "./samples.ts";
import { nameGivenOut, sniff } from "./sniff.ts";
import { documentPicture, idOf, keepFile, readKept, sizedPicture, stateOfFile } from "./store.ts";

const bytes = (...all: (string | number[])[]) =>
  Buffer.concat(all.map((part) => (typeof part === "string" ? Buffer.from(part) : Buffer.from(part))));
const none = { width: null, height: null };

test.each([
  ["hut.jpg", "image/jpeg", "hut.jpg"],
  ["hut.JPEG", "image/jpeg", "hut.JPEG"],
  ["hut.html", "image/jpeg", "hut.html.jpg"],
  ["hut.svg", "image/png", "hut.svg.png"],
  ["page.html", "text/plain", "page.html.txt"],
  ["page.XHTML", "application/pdf", "page.XHTML.pdf"],
  ["drawing.svg", "text/plain", "drawing.svg.txt"],
  ["notes", "text/plain", "notes.txt"],
  ["walk.gpx", "application/gpx+xml", "walk.gpx"],
])("%s that is %s is given out as %s", (name, mediaType, as) => {
  expect(nameGivenOut({ name, mediaType })).toBe(as);
});

describe("what a file is, by its bytes", () => {
  test("a picture, with its size as it is shown", async () => {
    const upright = await sharp(await picture("#456", { width: 60, height: 40 }))
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer();
    expect(await sniff("a.jpg", upright)).toEqual({ mediaType: "image/jpeg", width: 40, height: 60 });
    const png = await picture("#456", { width: 3, height: 2, type: "png" });
    expect(await sniff("named-otherwise.jpg", png)).toEqual({ mediaType: "image/png", width: 3, height: 2 });
  });

  test.each<[string, Buffer, string]>([
    ["a.pdf", bytes("%PDF-1.7\n%\n1 0 obj\n"), "application/pdf"],
    ["walk.gpx", bytes('<?xml version="1.0"?><gpx version="1.1"></gpx>'), "application/gpx+xml"],
    ["beds.csv", bytes("hut,beds\nLarice,24\n"), "text/csv"],
    ["notes", bytes("Ask the warden. שלום 👩‍👩‍👧"), "text/plain"],
  ])("%s", async (name, file, mediaType) => {
    expect(await sniff(name, file)).toEqual({ mediaType, ...none });
  });

  test.each<[string, Buffer, RegExp]>([
    [
      "program.png",
      bytes([0x7f, 0x45, 0x4c, 0x46, 2, 1, 1, 0, 0, 0, 0, 0, 0, 0, 0, 0, 2, 0, 62, 0]),
      /neither a picture/,
    ],
    ["program.png", bytes("MZ", [0x90, 0, 3, 0, 0, 0, 4, 0]), /neither a picture/],
    ["run.txt", bytes("#!/bin/sh\nrm -r /\n"), /a program or a web page/],
    ["page.txt", bytes("<!DOCTYPE html><p>Hello"), /a program or a web page/],
    ["data.xml", bytes('<?xml version="1.0"?><x><script>alert(1)</script></x>'), /a program or a web page/],
    ["drawing.svg", bytes('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'), /SVG/],
    ["drawing.png", bytes('<?xml version="1.0"?>\n<!-- a --><svg onload="alert(1)"/>'), /SVG/],
    ["empty.jpg", bytes(), /is empty/],
    ["long.jpg", Buffer.alloc(20_000_001), /larger than 20 MB/],
    ["half.txt", bytes("half ", [0xc3, 0x28, 0, 1]), /neither a picture/],
  ])("%s is not taken, with the reason", async (name, file, reason) => {
    expect(await sniff(name, file)).toEqual({ problem: expect.stringMatching(reason) });
  });

  test("a picture broken in the middle, and one that claims many pixels", async () => {
    const whole = await picture("#456");
    const broken = whole.subarray(0, whole.length / 2);
    expect(await sniff("a.jpg", broken)).toEqual({ problem: expect.stringMatching(/cannot be read as a picture/) });
    const huge = await picture("#456", { width: 4, height: 4, type: "png" });
    huge.writeUInt32BE(40_000_000, 16);
    huge.writeUInt32BE(crc32(huge.subarray(12, 29)), 29);
    expect(await sniff("b.png", huge)).toEqual({ problem: expect.stringMatching(/too many pixels/) });
  });
});

describe("where files are kept", () => {
  let folder: string;
  beforeEach(() => {
    folder = mkdtempSync(path.join(tmpdir(), "elenco-store-"));
  });
  afterEach(() => rmSync(folder, { recursive: true }));
  const place = (id: string) => path.join(folder, id.slice(0, 2), id);

  test("a file is found by its SHA-256, once however often it is brought", async () => {
    const file = bytes("the same words");
    await Promise.all([keepFile(folder, file), keepFile(folder, file), keepFile(folder, file)]);
    const id = idOf(file);
    expect(await readKept(folder, id)).toEqual(file);
    expect(readdirSync(path.join(folder, id.slice(0, 2)))).toEqual([id]);
    expect(await readKept(folder, "0".repeat(64))).toBeNull();
  });

  test("missing and damaged are told apart, and bringing the file again mends it", async () => {
    const file = bytes("twelve bytes");
    const one = { id: idOf(file), bytes: file.length };
    expect(await stateOfFile(folder, one, false)).toBe("missing");
    await keepFile(folder, file);
    expect(await stateOfFile(folder, one, true)).toBe("whole");
    writeFileSync(place(one.id), "twelve BYTES");
    expect(await stateOfFile(folder, one, false)).toBe("whole");
    expect(await stateOfFile(folder, one, true)).toBe("damaged");
    truncateSync(place(one.id), 3);
    expect(await stateOfFile(folder, one, false)).toBe("damaged");
    await keepFile(folder, file);
    expect(await stateOfFile(folder, one, true)).toBe("whole");
  });

  test("readers get a picture in their width, never larger than it came, without what the camera noted", async () => {
    const file = await picture("#456", { width: 1_200, height: 600 });
    await keepFile(folder, file);
    const sizes = await Promise.all(
      [1, 480, 481, 5_000].map(async (width) =>
        sharp((await sizedPicture(folder, idOf(file), width)) as Buffer).metadata(),
      ),
    );
    expect(sizes.map(({ width, height, format, exif }) => [width, height, format, exif])).toEqual([
      [480, 240, "webp", undefined],
      [480, 240, "webp", undefined],
      [960, 480, "webp", undefined],
      [1_200, 600, "webp", undefined],
    ]);
    expect(await sizedPicture(folder, "0".repeat(64), 480)).toBeNull();
  });

  test("a document gets a JPEG with its size; for what is no picture there is none", async () => {
    const file = await picture("#456", { width: 40, height: 20, type: "png" });
    const words = bytes("no picture");
    await Promise.all([keepFile(folder, file), keepFile(folder, words)]);
    expect(await documentPicture(folder, idOf(file))).toMatchObject({ width: 40, height: 20 });
    expect(await documentPicture(folder, idOf(words))).toBeNull();
  });
});
