import mammoth from "mammoth";
import yauzl from "yauzl";

/** A document unpacks to so many bytes at most; more is no text but an attack, or needs another tool. */
const UNPACKED = 60_000_000;
const ENTRIES = 2_000;

/** What of a word processor's styles is structure. */
const STYLES = [
  "p[style-name='Title'] => h1:fresh",
  "p[style-name='Quote'] => blockquote > p:fresh",
  "p[style-name='Intense Quote'] => blockquote > p:fresh",
  "p[style-name='Caption'] => figcaption:fresh",
  "r[style-name='Credit'] => small",
];

/** A picture alone in its paragraph, with its caption below. */
const CAPTIONED = /<p>(<img [^>]*>)<\/p>(<figcaption>.*?<\/figcaption>)/gs;

/**
 * Reads a DOCX document (ECMA-376) as HTML, structure kept and pictures written out in it.
 *
 * @returns the HTML and a sentence for what of the looks was left out, or one that says why it is no document
 */
export async function htmlOfDocx(bytes: Buffer): Promise<{ html: string; leftOut: string[] } | { problem: string }> {
  const problem = await whyNotDocx(bytes);
  if (problem) return { problem };
  try {
    const { value, messages } = await mammoth.convertToHtml({ buffer: bytes }, { styleMap: STYLES });
    const styles = messages.filter((one) => one.message.startsWith("Unrecognised paragraph style")).length;
    const leftOut = styles > 0 ? ["Paragraphs in styles of the file’s own came as plain paragraphs."] : [];
    return { html: value.replace(CAPTIONED, "<figure>$1$2</figure>"), leftOut };
  } catch {
    return { problem: "The file could not be read as a document." };
  }
}

/** Unpacks every entry, counting, before anything else does: sizes a file claims are not believed. */
function whyNotDocx(bytes: Buffer): Promise<string | null> {
  return new Promise((resolve) => {
    const none = "The file is not a DOCX document.";
    yauzl.fromBuffer(bytes, { lazyEntries: true, validateEntrySizes: true }, (error, zip) => {
      if (error || !zip) return resolve(none);
      if (zip.entryCount > ENTRIES) return resolve("The file holds too many parts to be a text.");
      let unpacked = 0;
      let isDocument = false;
      const stop = (problem: string | null) => {
        zip.close();
        resolve(problem);
      };
      zip.on("error", () => stop(none));
      zip.on("end", () => stop(isDocument ? null : none));
      zip.on("entry", (entry: yauzl.Entry) => {
        if (entry.fileName === "word/document.xml") isDocument = true;
        zip.openReadStream(entry, (failed, stream) => {
          if (failed || !stream) return stop(none);
          stream.on("data", (chunk: Buffer) => {
            unpacked += chunk.length;
            if (unpacked <= UNPACKED) return;
            stream.destroy();
            stop(`The file unpacks to more than ${UNPACKED / 1_000_000} MB; it was left alone.`);
          });
          stream.on("error", () => stop(none));
          stream.on("end", () => zip.readEntry());
        });
      });
      zip.readEntry();
    });
  });
}
