import type { JotWords } from "../en/jots.ts";
import { spanish } from "./spanish.ts";

const { capital, date, list, whole, decimal, percent, oneOr, outOf } = spanish;

const share = (numerator: number, denominator: number) =>
  `${outOf(numerator, denominator)} ${oneOr(denominator, "comparación", "comparaciones")} (${percent((100 * numerator) / denominator)})`;

/** What a report says of jots and of several raters; Spanish. */
export const jotsEs: JotWords = {
  section: () => "Notas",
  noCategory: () => "Sin categoría",
  line: (category, level, own) =>
    `${category ?? "Nota"}${own ? ", según la propia alumna o el propio alumno" : ""}${level ? `: ${level}` : ""}.`,
  picture: (caption) => `Imagen: ${caption}`,
  pictures: (n) => `${whole(n)} ${oneOr(n, "imagen", "imágenes")}`,
  onTheWay: (caption) => `Imagen: ${caption} (todavía en el dispositivo que la tomó)`,
  counts: (levels) => `${capital(list(levels.map(({ label, n }) => `${label} (${whole(n)})`)))}.`,
  written: (n) => `${whole(n)} ${oneOr(n, "nota", "notas")} en este período.`,
  latest: () => "Lo más reciente",
  levels: (category) => `${category}: niveles a lo largo del tiempo`,
  drawn: (category, points) =>
    `${category}: ${points.map(({ on, level }) => `${date(on, "full")}, ${level}`).join("; ")}.`,
  tick: (on) => date(on, "day"),
  legend: (own) =>
    `Punto: valoración de una persona adulta${own ? "; rombo abierto: la del propio estudiante" : ""}. La línea sigue la media de las valoraciones de personas adultas de cada día.`,
  raters: () => "Quién valoró",
  ownRating: () => "La valoración del propio estudiante",
  rater: (place) => `Persona ${whole(place)}`,
  raterMean: (n, mean, scale) =>
    `${whole(n)} ${oneOr(n, "día", "días")}, media ${scale === "percent" ? percent(mean) : decimal(mean)}`,
  day: (on) => date(on, "shortYear"),
  agreement: ({ days, compared, same, near }) =>
    `En ${whole(days)} ${oneOr(days, "día valorado", "días valorados")} por más de una persona adulta: el mismo nivel en ${share(same, compared)}, a lo sumo un nivel de diferencia en ${share(near, compared)}.`,
  noAgreement: () =>
    "Ningún día fue valorado por más de una persona adulta, así que no se conoce la concordancia.",
  adultsMean: (mean, scale, of) =>
    scale === "percent"
      ? `Media de las personas adultas: ${percent(mean)}.`
      : `Media de las personas adultas: ${decimal(mean)} en niveles de 1 a ${whole(of)}.`,
};
