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

/** One line of the chart. */
export type Line = {
  readonly label: string;
  readonly unit: string;
  /** A colour's token of the theme. */
  readonly colour: string;
  readonly data: readonly (number | null)[];
  /** Lines in two units have an axis each. */
  readonly axis: "left" | "right";
};

type Props = {
  /** Text alternative of the chart. */
  readonly label: string;
  readonly times: readonly string[];
  readonly lines: readonly Line[];
};

/** Line chart over time, its axis starting at zero. */
export function LineChart({ label, times, lines }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!canvas.current) return;
    const chart = new Chart(canvas.current, configuration({ times, lines }));
    return () => chart.destroy();
  }, [times, lines]);
  return <canvas ref={canvas} height={92} role="img" aria-label={label} />;
}

/** Canvas does not resolve custom properties: read their current values. */
const token = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();

function configuration({ times, lines }: Omit<Props, "label">): ChartConfiguration<"line", (number | null)[]> {
  const ticks = { color: token("soft"), font: { family: token("ui"), size: 11 }, maxTicksLimit: 4 };
  const axis = (side: "left" | "right") => {
    const own = lines.filter((line) => line.axis === side);
    const colour = lines.length > own.length && own[0] ? token(own[0].colour) : ticks.color;
    return {
      position: side,
      display: own.length > 0,
      beginAtZero: true,
      ticks: { ...ticks, color: colour },
      grid: { color: token("hair"), drawOnChartArea: side === "left" },
      border: { display: false },
    };
  };
  return {
    type: "line",
    data: {
      labels: [...times],
      datasets: lines.map(({ label, colour, data, axis: side }) => ({
        label,
        data: [...data],
        yAxisID: side,
        borderColor: token(colour),
        backgroundColor: token(colour),
        borderWidth: 2,
        pointRadius: 2.5,
        spanGaps: true,
      })),
    },
    options: {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      interaction: { mode: "index", intersect: false },
      plugins: {
        tooltip: {
          callbacks: {
            label: (item) => `${item.dataset.label}: ${item.formattedValue} ${lines[item.datasetIndex]?.unit ?? ""}`,
          },
        },
      },
      scales: {
        x: { ticks: { ...ticks, display: false }, grid: { display: false }, border: { color: token("line") } },
        left: axis("left"),
        right: axis("right"),
      },
    },
  };
}
