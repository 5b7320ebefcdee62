import { useEffect, useRef, useState } from 'react';

const FIRST_PIXELS = 900;

/** How wide a desk is, as it is drawn wider and narrower. */
export function useWidth() {
  const place = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(FIRST_PIXELS);
  useEffect(() => {
    const element = place.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(([entry]) => setWidth(entry.contentRect.width));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return { place, width };
}
