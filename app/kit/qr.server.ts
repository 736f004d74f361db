import { create } from "qrcode";

/** A text as a square to be read by a phone (ISO/IEC 18004): one unit for each dot, as the path of a drawing. */
export function qrOf(text: string): { size: number; path: string } {
  const { size, data } = create(text, { errorCorrectionLevel: "M" }).modules;
  const dots = Array.from(data).flatMap((dot, at) =>
    dot ? [`M${at % size} ${Math.floor(at / size)}h1v1h-1z`] : [],
  );
  return { size, path: dots.join("") };
}
