// The colours of drawings and charts: those of styles.css, and a few that only drawings use. SVG that is saved keeps them.
export const INK = {
  sheet: "#ffffff",
  graphite: "#16201d",
  pencil: "#54615e",
  rule: "#c5cdca",
  layout: "#1f4f8f",
  amber: "#dd9f05",
  amberPale: "#faf0d6",
  torn: "#8a5a2b",
  iron: "#ad2318",
  ironBand: "#f3dcd8",
  teal: "#1d6f75",
  tealBand: "#2f7f86",
  cell: "#f8faf9",
  grid: "#dfe5e3",
  wood: "#6b4218",
  both: "#4b5753",
} as const;

/** Lines of several sets in one figure; dashes tell them apart too. */
export const LINE_INKS = ["#1d6f75", "#8a4f00", "#1f4f8f", "#5b3a6b", "#4d5a17", "#7a2d3a"] as const;
