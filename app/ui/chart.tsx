import type { ChartConfiguration } from "chart.js";
import { useEffect, useRef, useState } from "react";

interface Props {
  /** What it shows, for who does not see it; the numbers stand in a table beside it. */
  label: string;
  /** Bars where things are counted, a line where something goes on. */
  look: "bars" | "line";
  names: readonly string[];
  values: readonly number[];
}

/** Numbers over time, drawn in the page's own colours; nothing of it is there before scripts are. */
export function Chart({ label, look, names, values }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const changes = useChangesOfTheme();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a canvas does not follow the page's colours by itself
  useEffect(() => {
    let drawn: { destroy(): void } | null = null;
    let gone = false;
    void import("chart.js/auto").then(({ default: Drawing }) => {
      if (gone || !canvas.current) return;
      drawn = new Drawing(canvas.current, configOf(canvas.current, look, names, values));
    });
    return () => {
      gone = true;
      drawn?.destroy();
    };
  }, [look, names, values, changes]);
  return (
    <div className="relative h-28 min-w-0 overflow-hidden">
      <canvas ref={canvas} role="img" aria-label={label} className="border-rule text-ink" />
    </div>
  );
}

/** How often day and night changed, by the system or by choice. */
function useChangesOfTheme(): number {
  const [changes, setChanges] = useState(0);
  useEffect(() => {
    const count = () => setChanges((so) => so + 1);
    const system = matchMedia("(prefers-color-scheme: dark)");
    const choice = new MutationObserver(count);
    system.addEventListener("change", count);
    choice.observe(document.documentElement, { attributeFilter: ["data-theme"] });
    return () => {
      system.removeEventListener("change", count);
      choice.disconnect();
    };
  }, []);
  return changes;
}

function configOf(
  canvas: HTMLCanvasElement,
  look: Props["look"],
  names: readonly string[],
  values: readonly number[],
): ChartConfiguration<"bar" | "line"> {
  const { color, borderTopColor, fontFamily } = getComputedStyle(canvas);
  const font = { family: fontFamily, size: 12 };
  const ticks = { color, font, precision: 0, maxTicksLimit: 4 };
  return {
    type: look === "bars" ? "bar" : "line",
    data: {
      labels: [...names],
      datasets: [
        { data: [...values], backgroundColor: color, borderColor: color, borderWidth: 2, pointRadius: 0, tension: 0 },
      ],
    },
    options: {
      animation: false,
      maintainAspectRatio: false,
      plugins: { legend: { display: false } },
      scales: {
        x: { grid: { display: false }, border: { color }, ticks: { color, font, maxRotation: 0, autoSkipPadding: 12 } },
        y: { beginAtZero: true, grid: { color: borderTopColor }, border: { display: false }, ticks },
      },
    },
  };
}
