// A long list of rows: only those in sight are drawn.
import { useVirtualizer } from "@tanstack/react-virtual";
import { useRef } from "react";

interface Props<T> {
  items: T[];
  rowHeight: number;
  keyOf: (item: T) => React.Key;
  children: (item: T, index: number) => React.ReactNode;
  label: string;
}

const DRAW_ALL = 80;

export function Rows<T>({ items, rowHeight, keyOf, children, label }: Props<T>) {
  const frame = useRef<HTMLUListElement>(null);
  const virtual = useVirtualizer({
    count: items.length,
    getScrollElement: () => frame.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    getItemKey: (index) => keyOf(items[index] as T),
    measureElement: (element) => element.getBoundingClientRect().height,
  });
  if (items.length <= DRAW_ALL) {
    return (
      <ul aria-label={label}>
        {items.map((item, index) => (
          <li key={keyOf(item)}>{children(item, index)}</li>
        ))}
      </ul>
    );
  }
  return (
    <ul ref={frame} aria-label={label} className="relative overflow-auto" style={{ height: "70vh" }}>
      <li aria-hidden style={{ height: virtual.getTotalSize() }} />
      {virtual.getVirtualItems().map((row) => (
        <li
          key={row.key}
          data-index={row.index}
          ref={virtual.measureElement}
          className="absolute top-0 left-0 w-full"
          style={{ transform: `translateY(${row.start}px)` }}
        >
          {children(items[row.index] as T, row.index)}
        </li>
      ))}
    </ul>
  );
}
