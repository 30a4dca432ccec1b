import { countCharacters, countWords } from "#core/text/measure.ts";

/** What a request's form does while it is filled in: it counts, and asks whether the date can be met. The form works without. */
for (const field of document.querySelectorAll<HTMLInputElement | HTMLTextAreaElement>("[data-counts]")) {
  const said = field.closest("[data-answer]")?.querySelector("[data-count]");
  const { counts = "words", most = "" } = field.dataset;
  const count = () => {
    if (!said) return;
    const length = counts === "words" ? countWords(field.value) : countCharacters(field.value);
    said.textContent = `${length} ${counts}${most ? ` of at most ${most}` : ""}`;
    said.classList.toggle("text-red", most !== "" && length > Number(most));
  };
  field.addEventListener("input", count);
  count();
}

const wish = document.querySelector<HTMLInputElement>("[data-wish]");
const says = document.querySelector<HTMLElement>("[data-wish-says]");
wish?.addEventListener("change", async () => {
  const address = `${location.pathname}/earliest?wished=${encodeURIComponent(wish.value)}`;
  const answer = await fetch(address).catch(() => null);
  const { says: words } = answer?.ok ? ((await answer.json()) as { says: string }) : { says: "" };
  if (says && words) says.textContent = words;
});
