import type { FileWords } from "../en/files.ts";
import { spanish } from "./spanish.ts";

const { whole } = spanish;

/** What files of a report say around it; Spanish. */
export const filesEs: FileWords = {
  edition: (n) => `Edición ${whole(n)}`,
  about: () => "Sobre este archivo",
  log: () => "Registro",
  incidents: () => "Incidentes",
  jots: () => "Notas",
  dictionary: () => "Columnas",
  dictionaryHead: () => ["Hoja", "Columna", "Qué contiene"],
  goal: (number) => `Meta ${number}`,
  part: (at, of) => `Parte ${whole(at)} de ${whole(of)}`,
  values: {
    ...{ baseline: "línea base", yes: "sí", no: "no", out: "no se compara", percent: "por ciento" },
    ...{ seconds: "segundos", minutes: "minutos", hours: "horas", count: "veces", points: "puntos" },
    ...{ "per minute": "por minuto", "per hour": "por hora", words: "palabras" },
  },
  columns: {
    date: ["Fecha", "El día en la escuela."],
    time: ["Hora", "La hora en la escuela; vacía si solo se conoce el día."],
    phase: [
      "Fase",
      "La etapa de la meta a la que pertenece el punto; la línea base es anterior a la enseñanza.",
    ],
    value: [
      "Valor",
      "El resultado de la sesión, o del día, la semana o el mes por los que se cuenta la meta. Vacío si no cuenta.",
    ],
    unit: ["Unidad", "En qué se expresa el valor."],
    counted: [
      "Contados",
      "Cuántos, por ejemplo respuestas correctas o pasos; vacío si el valor no es una proporción.",
    ],
    of: ["De", "De cuántos en total."],
    judged: ["Cumple el criterio", "Sí o no, o no se compara con él."],
    setting: ["Lugar", "Dónde fue."],
    observer: ["Observado por", "Quién observó."],
    antecedents: ["Antecedentes", "Lo que se vio antes."],
    behaviors: ["Conductas", "Lo que se vio."],
    consequences: ["Consecuencias", "Lo que se vio después."],
    function: ["Posible función", "Lo que la conducta quizá consigue o evita, según se registró."],
    minutes: ["Minutos", "Cuánto duró, si se midió."],
    intensity: ["Intensidad", "Desde 1, la más baja."],
    episode: ["Episodio", "Los incidentes con menos de 30 minutos entre sí tienen el mismo número."],
    period: ["Período", "El período del horario, si no se anotó la hora."],
    length: ["Duración", "Cuánto duró, si se estimó."],
    category: ["Categoría", "De qué trata la nota."],
    level: ["Nivel", "El nivel elegido."],
    own: ["Valoración propia", "Sí, si la dio el estudiante."],
    words: ["Texto", "Lo que se escribió."],
    pictures: ["Imágenes", "Lo que muestran."],
    goal: ["Meta", "El número de la meta."],
    line: ["Línea", "El registro tal como lo dice el informe."],
    note: ["Comentario", "Lo que se escribió al lado."],
    by: ["Por", "Cuándo, y quién observó."],
  },
};
