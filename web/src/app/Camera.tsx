// The camera as a scanner, where the browser reads codes by itself and lets a page have the camera (https, or this machine).
import { useEffect, useRef, useState } from "react";

type Detector = { detect: (seen: HTMLVideoElement) => Promise<{ rawValue: string }[]> };
declare global {
  interface Window {
    BarcodeDetector?: new (of: { formats: string[] }) => Detector;
  }
}

/** Between two looks, in milliseconds. */
const LOOK_MS = 150;

export const cameraReads = () => Boolean(window.BarcodeDetector) && "mediaDevices" in navigator;

export function Camera({ take }: { take: (line: string) => void }) {
  const video = useRef<HTMLVideoElement>(null);
  const latest = useRef(take);
  const [failed, setFailed] = useState(false);
  useEffect(() => {
    latest.current = take;
  });
  useEffect(() => {
    const Reads = window.BarcodeDetector;
    if (!Reads) return;
    const detector = new Reads({ formats: ["qr_code", "code_128", "code_39"] });
    let stream: MediaStream | undefined;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let over = false;
    const look = async () => {
      const seen = video.current;
      // A picture that cannot be read yet is looked at again.
      const codes = seen && seen.readyState >= 2 ? await detector.detect(seen).catch(() => []) : [];
      if (over) return;
      const line = codes[0]?.rawValue;
      if (line) latest.current(line);
      else timer = setTimeout(() => void look(), LOOK_MS);
    };
    navigator.mediaDevices.getUserMedia({ video: { facingMode: "environment" } }).then(
      (opened) => {
        stream = opened;
        if (over || !video.current) return stop();
        video.current.srcObject = opened;
        void video.current.play().then(look, () => setFailed(true));
      },
      () => setFailed(true),
    );
    const stop = () => {
      for (const track of stream?.getTracks() ?? []) track.stop();
    };
    return () => {
      over = true;
      clearTimeout(timer);
      stop();
    };
  }, []);
  if (failed)
    return (
      <p className="refusal" role="alert">
        The camera does not open. Allow it for this page in the browser, or type the code.
      </p>
    );
  return <video ref={video} className="camera" muted playsInline aria-label="What the camera sees" />;
}
