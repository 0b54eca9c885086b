import { useVirtualizer, useWindowVirtualizer } from "@tanstack/react-virtual";
import type { Virtualizer } from "@tanstack/react-virtual";
import type { ReactNode, RefObject } from "react";
import { useLayoutEffect, useRef, useState } from "react";

/** As many as that are all drawn. */
const FEW = 60;
const OVERSCAN = 10;

interface SeenProps<T> {
  items: T[];
  keyOf: (item: T) => string;
  /** How high a line is, about, in pixels. */
  height?: number;
  /** The list's own window, where it doesn't move with the page; null until it stands there. */
  within?: HTMLElement | null;
  /** No lines between them. */
  plain?: boolean;
  children: (item: T) => ReactNode;
}

/** A list of lines; of a long one only what is seen is drawn. */
export function Seen<T>(props: SeenProps<T>) {
  const { items, keyOf, within, plain = false, children } = props;
  if (items.length > FEW) return within === undefined ? <InPage {...props} /> : <InWindow {...props} />;
  return (
    <ul className={`empty:hidden ${plain ? "" : "divide-y divide-rule border-y border-rule"}`}>
      {items.map((item) => (
        <li key={keyOf(item)}>{children(item)}</li>
      ))}
    </ul>
  );
}

function InPage<T>(props: SeenProps<T>) {
  const { items, keyOf, height = 48 } = props;
  const list = useRef<HTMLUListElement>(null);
  const [top, setTop] = useState(0);
  // What is above it may grow without a word.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  useLayoutEffect(() => {
    const now = Math.round((list.current?.getBoundingClientRect().top ?? 0) + window.scrollY);
    if (now !== top) setTop(now);
  });
  const lines = useWindowVirtualizer<HTMLLIElement>({
    count: items.length,
    estimateSize: () => height,
    getItemKey: (at) => keyOf(items[at] as T),
    overscan: OVERSCAN,
    scrollMargin: top,
  });
  return <Drawn {...props} at={list} lines={lines} top={top} />;
}

function InWindow<T>(props: SeenProps<T>) {
  const { items, keyOf, within, height = 48 } = props;
  const list = useRef<HTMLUListElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- nothing here is remembered
  const lines = useVirtualizer<HTMLElement, HTMLLIElement>({
    count: items.length,
    estimateSize: () => height,
    getItemKey: (at) => keyOf(items[at] as T),
    getScrollElement: () => within ?? null,
    overscan: OVERSCAN,
  });
  return <Drawn {...props} at={list} lines={lines} top={0} />;
}

interface DrawnProps<T, S extends Element | Window> extends SeenProps<T> {
  at: RefObject<HTMLUListElement | null>;
  lines: Virtualizer<S, HTMLLIElement>;
  top: number;
}

function Drawn<T, S extends Element | Window>({ items, plain = false, children, at, lines, top }: DrawnProps<T, S>) {
  return (
    <ul ref={at} className={`relative ${plain ? "" : "border-y border-rule"}`} style={{ height: lines.getTotalSize() }}>
      {lines.getVirtualItems().map((line) => (
        <li
          key={line.key}
          ref={lines.measureElement}
          data-index={line.index}
          aria-setsize={items.length}
          aria-posinset={line.index + 1}
          className={`absolute inset-x-0 top-0 ${plain ? "" : "border-b border-rule"}`}
          style={{ transform: `translateY(${String(line.start - top)}px)` }}
        >
          {children(items[line.index] as T)}
        </li>
      ))}
    </ul>
  );
}
