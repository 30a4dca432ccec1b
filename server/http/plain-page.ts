import { escapeHtml } from "#core/text/html.ts";

/**
 * A page that needs neither the application nor its styles.
 *
 * @param again seconds after which the browser asks again by itself
 */
export function plainPage(heading: string, sentence: string, requestId: string, again?: number): string {
  const refresh = again ? `<meta http-equiv="refresh" content="${again}">` : "";
  return `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">${refresh}<title>${escapeHtml(heading)}</title>
<body style="font:16px/1.5 sans-serif;max-width:34em;margin:15vh auto;padding:0 20px;color:#131B2E;background:#FAFAF6"><h1 style="font-size:26px">${escapeHtml(heading)}</h1><p>${escapeHtml(sentence)}</p><p style="color:#626A78">${escapeHtml(requestId)}</p></body></html>`;
}
