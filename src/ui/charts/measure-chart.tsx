"use client";
import {
  CategoryScale,
  Chart,
  type ChartConfiguration,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
} from "chart.js";
import { useEffect, useRef } from "react";

Chart.register(LineController, LineElement, PointElement, LinearScale, CategoryScale, Tooltip);

type Props = {
  /** What is drawn, for who can not see it. */
  readonly label: string;
  readonly unit: string;
  readonly times: readonly string[];
  readonly original: readonly (number | null)[];
  readonly twin: readonly (number | null)[];
};

/** Original against twin over the checks: two lines from nought, in the colours of the sides. */
export function MeasureChart({ label, unit, times, original, twin }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!canvas.current) return;
    const chart = new Chart(canvas.current, configuration({ label, unit, times, original, twin }));
    return () => chart.destroy();
  }, [label, unit, times, original, twin]);
  return <canvas ref={canvas} height={92} role="img" aria-label={label} />;
}

/** Canvas knows no custom properties: their values of now are read. */
const token = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();

function configuration({ unit, times, original, twin }: Props): ChartConfiguration<"line", (number | null)[]> {
  const line = (name: string, data: readonly (number | null)[], colour: string) => ({
    label: name,
    data: [...data],
    borderColor: token(colour),
    backgroundColor: token(colour),
    borderWidth: 2,
    pointRadius: 2.5,
    spanGaps: true,
  });
  const ticks = { color: token("soft"), font: { family: token("ui"), size: 11 }, maxTicksLimit: 4 };
  return {
    type: "line",
    data: { labels: [...times], datasets: [line("original", original, "steel"), line("twin", twin, "copper")] },
    options: {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      interaction: { mode: "index", intersect: false },
      plugins: { tooltip: { callbacks: { label: (item) => `${item.dataset.label}: ${item.formattedValue} ${unit}` } } },
      scales: {
        x: { ticks: { ...ticks, display: false }, grid: { display: false }, border: { color: token("line") } },
        y: { beginAtZero: true, ticks, grid: { color: token("hair") }, border: { display: false } },
      },
    },
  };
}
