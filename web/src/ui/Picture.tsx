// A drawing that knows how large it stands on the glass: no text in it falls under twelve dots.
import { useLayoutEffect, useRef, type SVGProps } from "react";

/** Units of the drawing in a dot of the glass, as `--dot` for its text (ui/level.css). */
export function Picture({ className, ...rest }: SVGProps<SVGSVGElement> & { viewBox: string }) {
  const svg = useRef<SVGSVGElement>(null);
  useLayoutEffect(() => {
    const here = svg.current;
    if (!here) return;
    // Called before the first frame that shows it, when the page is laid out anyway, and with every change of its size.
    const watch = new ResizeObserver(() => {
      const scale = here.getScreenCTM()?.a ?? 0;
      if (scale > 0) here.style.setProperty("--dot", String(Math.round(100 / scale) / 100));
    });
    watch.observe(here);
    return () => watch.disconnect();
  }, []);
  return <svg ref={svg} role="img" className={`picture ${className ?? ""}`} {...rest} />;
}
