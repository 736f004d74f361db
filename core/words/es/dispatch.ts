import type { dispatchEn } from "../en/dispatch.ts";
import { spanish } from "./spanish.ts";

const { list: listed } = spanish;
const counted = (n: number, one: string, many = `${one}s`) =>
  `${spanish.whole(n)} ${spanish.oneOr(n, one, many)}`;

const hello = "Hola [reader]:";
const sign = "Ábralo aquí:\n\n[link]";
const harms = { injury: "una lesión", restraint: "contención física", seclusion: "aislamiento" };

export const dispatchEs: typeof dispatchEn = {
  templates: {
    invitation: {
      subject: "[school] le invita a Gentle Margin",
      text: `${hello}

[school] registra en Gentle Margin las metas y los días escolares de sus estudiantes, y le invita a participar.

Abra esta página y elija una contraseña:

[link]

El enlace sirve una sola vez, hasta el [on]. Es solo para usted: no lo comparta.

Si usted no trabaja con [school], borre este mensaje. No pasará nada más.`,
    },
    reset: {
      subject: "Elija una contraseña nueva para Gentle Margin",
      text: `${hello}

Alguien pidió una contraseña nueva para la cuenta con esta dirección. Elíjala aquí:

[link]

El enlace sirve una sola vez y vence pronto. Al cambiar la contraseña se cierran todas sus sesiones.

Si usted no la pidió, borre este mensaje. Su contraseña no cambia.`,
    },
    code: {
      subject: "Su código para [school]",
      text: `Su código: [code]

Escríbalo en la página de [school] que usted abrió. Sirve una sola vez, durante diez minutos.

Si usted no lo pidió, borre este mensaje. Sin el enlace nadie puede abrir nada.`,
    },
    test: {
      subject: "Mensaje de prueba de [school]",
      text: `${hello}

Esto es una prueba. El correo de Gentle Margin en [school] llega bien.`,
    },
    harm: {
      subject: "[student]: [what]",
      text: `${hello}

Se registró un incidente de [student] en Gentle Margin, con [what].

${sign}`,
    },
    entry: {
      subject: "[student]: [what]",
      text: `${hello}\n\nHay [what] de [student] en Gentle Margin.\n\n${sign}`,
    },
    incident: {
      subject: "[student]: [what]",
      text: `${hello}\n\nHay [what] de [student] en Gentle Margin.\n\n${sign}`,
    },
    jot: {
      subject: "[student]: [what]",
      text: `${hello}\n\nHay [what] de [student] en Gentle Margin.\n\n${sign}`,
    },
    finding: { subject: "[student]: algo que mirar", text: `${hello}\n\n[student]: [what].\n\n${sign}` },
    edition: {
      subject: "[student]: [what]",
      text: `${hello}

[school] ha compartido [what] con usted.

Ábralo aquí:

[link]`,
    },
    due: {
      subject: "Datos por registrar",
      text: `${hello}

Hay datos por registrar:

[what]

Su día en Gentle Margin:

[link]`,
    },
    statement: {
      subject: "[student]: se espera un informe de progreso de usted",
      text: `${hello}

De [student] le pedimos [what].

Escríbalo aquí:

[link]`,
    },
    question: {
      subject: "[student]: una familia tiene una pregunta",
      text: `${hello}

La familia de [student] le hace una pregunta.

Léala y respóndala aquí:

[link]`,
    },
    answer: {
      subject: "La escuela respondió a su pregunta",
      text: `${hello}

[school] respondió a su pregunta.

Lea la respuesta aquí:

[link]`,
    },
    held: {
      subject: "[student]: registros tardíos esperan su decisión",
      text: `${hello}

Llegaron observaciones de [student] después de que terminó la participación de su autor. Acéptelas o descártelas:

[link]`,
    },
    digest: { subject: "Novedades de [school]", text: `${hello}\n\n[what]\n\n${sign}` },
    receipt: { subject: "Un aviso de [school]", text: `${hello}\n\n[what]` },
    words: { subject: "Un mensaje de [school]", text: `${hello}\n\n[words]\n\n[by], [school]` },
    ask: {
      subject: "[student]: pedimos su opinión",
      text: `${hello}

[school] pide su opinión sobre algo para [student].

Responda aquí:

[link]`,
    },
    feedback: { subject: "Comentarios para usted", text: `${hello}\n\n[words]\n\n[school]` },
  },
  entries: (n) => (n === 1 ? "un registro nuevo" : counted(n, "registro nuevo", "registros nuevos")),
  incidents: (n) => (n === 1 ? "un incidente nuevo" : counted(n, "incidente nuevo", "incidentes nuevos")),
  jots: (n) => (n === 1 ? "una nota nueva" : counted(n, "nota nueva", "notas nuevas")),
  findings: (n) => counted(n, "asunto que mirar", "asuntos que mirar"),
  editions: (n) => (n === 1 ? "un informe nuevo" : counted(n, "informe nuevo", "informes nuevos")),
  statements: (n) =>
    n === 1 ? "un informe de progreso" : counted(n, "informe de progreso", "informes de progreso"),
  questions: (n) => counted(n, "pregunta de la familia", "preguntas de la familia"),
  held: (n) => counted(n, "registro tardío", "registros tardíos"),
  due: (n) => counted(n, "meta"),
  harm: (kinds) => listed(kinds.map((kind) => harms[kind])),
  ofStudent: (initials, things) => `${initials}: ${listed(things)}`,
  date: (on) => spanish.date(on, "full"),
  finding: (goal, standing) => `Meta ${goal}: ${standing}`,
  pattern: "un patrón en los incidentes",
  entryReceived: "Recibimos su pregunta. La persona a cargo del plan la responde en su página.",
  allSent: (n) => `Su mensaje llegó a ${counted(n, "persona")}.`,
  report: "un informe",
  recorded: "Lo que se registró:",
  openToRead: "Ábralo para leerlo: puede nombrar a otra persona.",
  whyStaff: (settings) =>
    `Recibe este mensaje como parte del personal de la escuela. Elija qué mensajes quiere recibir: ${settings}`,
  whyFamily: "Si no quiere recibir mensajes por correo electrónico, dígaselo a la persona a cargo del plan.",
};
