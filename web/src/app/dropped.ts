// The file that was dropped last, on its way to the page that looks at it.
let waiting: File | null = null;
const listeners = new Set<() => void>();

export function hand(file: File): void {
  waiting = file;
  for (const listen of listeners) listen();
}

/** Take the file that waits; null where none does. */
export function takeHanded(): File | null {
  const file = waiting;
  waiting = null;
  return file;
}

/** Hear of each file that is handed over; gives back how to stop. */
export function onHanded(listen: () => void): () => void {
  listeners.add(listen);
  return () => listeners.delete(listen);
}
