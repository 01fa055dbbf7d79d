// Where the chart library is set up: fonts, sizes, and how a figure gets into the page.
import * as Plot from "@observablehq/plot";
import { useEffect, useRef } from "react";
import { INK } from "../ui/ink";

export { Plot };

export const CHART_STYLE = {
  fontFamily: '"Archivo Variable", sans-serif',
  fontSize: "13px",
  color: INK.graphite,
  background: "transparent",
  overflow: "visible",
} as const;

/** Put a figure into an element whenever what it shows changes. */
export function useFigure<T extends HTMLElement>(draw: () => SVGSVGElement | HTMLElement, shows: unknown[]) {
  const frame = useRef<T>(null);
  useEffect(() => {
    const figure = draw();
    // the frame says what the figure shows; the labels inside are the library's own
    for (const part of figure.querySelectorAll("[aria-label]")) part.removeAttribute("aria-label");
    frame.current?.replaceChildren(figure);
    return () => figure.remove();
    // biome-ignore lint/correctness/useExhaustiveDependencies: the caller names what the figure shows
  }, shows);
  return frame;
}
