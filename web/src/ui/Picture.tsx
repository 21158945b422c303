// A drawing that knows how large it stands on the glass: no text in it falls under twelve dots.
import { useLayoutEffect, useRef, useState, type SVGProps } from "react";

/** Units of the drawing in a dot of the glass, as `--dot` for its text (ui/level.css). */
export function Picture({ style, className, ...rest }: SVGProps<SVGSVGElement> & { viewBox: string }) {
  const svg = useRef<SVGSVGElement>(null);
  const [dot, setDot] = useState(1);
  useLayoutEffect(() => {
    const here = svg.current;
    if (!here) return;
    const look = () => {
      const scale = here.getScreenCTM()?.a ?? 0;
      if (scale > 0) setDot(Math.round(100 / scale) / 100);
    };
    const watch = new ResizeObserver(look);
    watch.observe(here);
    look();
    return () => watch.disconnect();
  }, []);
  const size = { ...style, "--dot": dot } as React.CSSProperties;
  return <svg ref={svg} role="img" className={`picture ${className ?? ""}`} style={size} {...rest} />;
}
