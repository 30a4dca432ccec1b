import sharp from "sharp";
import type { Picture } from "#core/text/manuscript.ts";
import { type Chance, chance } from "./texts.ts";

const [WIDTH, HEIGHT] = [1_600, 1_000];
const RIDGES = 5;

/** What a drawn landscape shows, in which light: sky above, sky below, the farthest ridge, the nearest. */
const VIEWS = [
  [
    "the-saddle.jpg",
    "Ridges behind one another under a clear morning sky",
    ["#9db7cf", "#f3e3cf", "#8ea1b3", "#22303c"],
  ],
  ["after-rain.jpg", "Dark slopes above a valley full of mist", ["#7d8791", "#d5d8d6", "#8b969c", "#1f2a2b"]],
  ["last-light.jpg", "The border ridge in evening light", ["#3b4a6b", "#e9a36b", "#8b6a72", "#1d1f2b"]],
  ["october.jpg", "Larch slopes turned yellow below bare rock", ["#a9c0d6", "#f4efe2", "#b39a63", "#4a3a1c"]],
  [
    "winter-road.jpg",
    "Snow on the upper pastures, the road a line in it",
    ["#b9c7d6", "#f5f6f7", "#c9d3dc", "#5a6b7a"],
  ],
] as const;

/** A picture of the demo: a landscape drawn by chance, with what is said of it. */
export interface DemoPicture extends Omit<Picture, "file"> {
  name: string;
  bytes: Buffer;
}

/** Draws the demo's pictures, always the same. */
export function drawPictures(): Promise<DemoPicture[]> {
  return Promise.all(
    VIEWS.map(async ([name, alt, colours], i) => ({
      name,
      alt,
      caption: "",
      credit: "Gus Ferrante",
      bytes: await sharp(Buffer.from(landscape(colours, chance(i + 31))))
        .jpeg({ quality: 78 })
        .toBuffer(),
    })),
  );
}

function landscape([above, below, far, near]: readonly [string, string, string, string], random: Chance): string {
  const ridges = Array.from({ length: RIDGES }, (_, i) => {
    const depth = i / (RIDGES - 1);
    const outline = ridge(HEIGHT * (0.38 + depth * 0.4), 115 - depth * 35, random);
    return `<path d="${outline}" fill="${mix(far, near, depth)}"/>`;
  });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}"><defs><linearGradient id="sky" x2="0" y2="1"><stop stop-color="${above}"/><stop offset="0.75" stop-color="${below}"/></linearGradient></defs><rect width="${WIDTH}" height="${HEIGHT}" fill="url(#sky)"/>${ridges.join("")}</svg>`;
}

/** An outline of a mountain chain: peaks of falling size one upon the other. */
function ridge(height: number, rise: number, random: Chance): string {
  const chains = [1.7, 4.3, 9.1, 23, 61].map((peaks, i) => ({ peaks, rise: rise / 1.9 ** i, from: random() * 7 }));
  const points = Array.from({ length: WIDTH / 4 + 1 }, (_, i) => {
    const x = i * 4;
    const up = chains.reduce((sum, one) => {
      const wave = Math.sin((x / WIDTH) * one.peaks * Math.PI + one.from);
      return sum + one.rise * (1 - 2 * Math.abs(wave));
    }, 0);
    return `${x} ${(height - up).toFixed(1)}`;
  });
  return `M0 ${HEIGHT}L${points.join("L")}L${WIDTH} ${HEIGHT}Z`;
}

/** A colour between two, both as `#rrggbb`. */
function mix(from: string, to: string, share: number): string {
  const part = (colour: string, at: number) => Number.parseInt(colour.slice(at, at + 2), 16);
  const channels = [1, 3, 5].map((at) => Math.round(part(from, at) + (part(to, at) - part(from, at)) * share));
  return `rgb(${channels.join(",")})`;
}

/** A walk as a track others can follow (GPX 1.1). */
export function track(title: string, random: Chance): Buffer {
  const points = Array.from({ length: 60 }, (_, i) => {
    const [lat, lon] = [46.2 + i * 0.0011 + random() * 0.0006, 8.4 + i * 0.0014 + random() * 0.0006];
    return `<trkpt lat="${lat.toFixed(5)}" lon="${lon.toFixed(5)}"><ele>${Math.round(1_100 + 620 * Math.sin(i / 19))}</ele></trkpt>`;
  });
  return Buffer.from(
    `<?xml version="1.0" encoding="UTF-8"?>\n<gpx version="1.1" creator="Fontelba Trails" xmlns="http://www.topografix.com/GPX/1/1"><trk><name>${title.replace(/[<&]/g, "")}</name><trkseg>${points.join("")}</trkseg></trk></gpx>\n`,
  );
}
