import { useLayoutEffect, useRef, useState } from 'react';

/**
 * A ref and the width of its element, `fallback` where nothing is laid out.
 *
 * It is measured before the first paint: a drawing that waited for its width would for a moment be
 * as wide as the fallback, and the page with it.
 */
export function useWidth(fallback: number) {
  const ref = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    const element = ref.current;
    if (!element) return undefined;
    const measure = () => setWidth(Math.floor(inside(element)));
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return { ref, width: width > 0 ? width : fallback };
}

/** What is left of an element's width for what stands in it. */
function inside(element: HTMLElement): number {
  const style = getComputedStyle(element);
  return element.clientWidth - parseFloat(style.paddingLeft || '0') - parseFloat(style.paddingRight || '0');
}
