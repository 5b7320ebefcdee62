import { type RefObject, useEffect, useState } from 'react';

/** How far out of sight something is made ready. */
const MARGIN = '240px';

/** Whether something has been in sight, or nearly: what nobody has scrolled to yet is not asked for. */
export function useNear(place: RefObject<Element | null>): boolean {
  const [isNear, setIsNear] = useState(false);
  useEffect(() => {
    const element = place.current;
    if (isNear || !element) return undefined;
    const observer = new IntersectionObserver(
      (seen) => {
        if (seen.some((one) => one.isIntersecting)) setIsNear(true);
      },
      { rootMargin: MARGIN },
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, [place, isNear]);
  return isNear;
}
