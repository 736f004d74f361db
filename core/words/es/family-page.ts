import type { familyPageEn } from "../en/family-page.ts";
import { spanish } from "./spanish.ts";

const spanishDate = (on: string) => spanish.date(on, "full");

/** Las páginas propias de la familia. */
export const familyPageEs: typeof familyPageEn = {
  entranceTitle: "Para la familia",
  entrance:
    "Esta página se abre con el enlace que le dio la escuela. Si ya no se abre, pida otro a la persona encargada del plan.",
  withAccount: "Tengo una cuenta",
  askCode: (email) =>
    `Para estar seguros de que es usted, enviamos un código de seis cifras a ${email}. Vale diez minutos.`,
  askStaff:
    "Para estar seguros de que es usted, esta página pide un código de seis cifras. Se lo da la persona encargada del plan; vale diez minutos.",
  sendCode: "Envíenme un código",
  codeSent: (email) => `El código va en camino a ${email}.`,
  codeTooOften: "Se pidió un código demasiadas veces. Espere un cuarto de hora.",
  code: "Código",
  open: "Abrir",
  wrongCode: "Este no es el código, o ya no vale. Pida otro.",
  tooManyCodes: "Demasiados intentos equivocados. Espere un cuarto de hora.",
  linkOver: "Este enlace ya no vale. Pida otro a la persona encargada del plan.",
  forWhom: (guardian) => `Para ${guardian}`,
  chooseStudent: "¿La página de quién?",
  reports: "Informes",
  noReports: "La escuela todavía no ha compartido un informe aquí.",
  madeOn: (on) => `hecho el ${spanishDate(on)}`,
  fromSchool: "De los días en la escuela",
  noEntries: "Todavía no se ha compartido nada aquí.",
  wordsTitle: "Qué significan las palabras",
  words: [
    [
      "Meta",
      "Lo que el estudiante aprende a hacer, y qué tan bien, para una fecha. El equipo la acordó con usted.",
    ],
    ["Punto de partida", "Lo que el estudiante podía hacer cuando empezó la meta."],
    ["Lo más reciente", "El último resultado que se midió."],
    [
      "Lo esperado a esta fecha",
      "Dónde estaría hoy el resultado si creciera de manera pareja desde el punto de partida hasta la meta.",
    ],
    ["Apoyo", "La ayuda que se dio: ninguna, una palabra, una seña, una mano."],
    [
      "Persona encargada del plan",
      "La maestra o el maestro que cuida el plan. En esta página puede preguntarle lo que quiera.",
    ],
  ],
  askTitle: "Una pregunta a la persona encargada del plan",
  askHint: "Una pregunta a la vez. La respuesta aparece aquí.",
  questionLabel: "Su pregunta",
  ask: "Enviar la pregunta",
  asked: "Su pregunta está con la persona encargada del plan.",
  emptyQuestion: "Escriba primero su pregunta.",
  longQuestion: "Como máximo 2,000 caracteres.",
  oneWaiting: "Su pregunta anterior todavía espera respuesta.",
  yourQuestion: (on) => `Usted preguntó el ${spanishDate(on)}`,
  answer: (on) => `Respuesta, ${spanishDate(on)}`,
  answeredOtherwise: (on) => `Respondida en persona, ${spanishDate(on)}`,
  rightsTitle: "Ver, corregir o borrar el expediente",
  rightsHint:
    "Usted tiene derecho a ver todo el expediente de su estudiante: la escuela se lo deja ver en un plazo de 45 días. Puede pedir que se corrija algo y, cuando la escuela ya no necesite el expediente, que se borre.",
  rightsKind: "Qué pide",
  rightsKinds: {
    inspect: "Ver todo el expediente",
    amend: "Corregir algo",
    erase: "Borrar el expediente",
  },
  rightsWords: "De qué se trata",
  rightsWordsHint: "Para corregir algo: qué dice, y qué debería decir.",
  rightsMissing: "Escriba qué debe corregirse.",
  rightsAsk: "Enviar la solicitud",
  rightsSent: "Su solicitud está con la escuela.",
  rightsWaiting: "Ya tiene abierta una solicitud como esta.",
  rightsOpen: (on, by) =>
    `pedido el ${spanishDate(on)}${by === null ? "" : `; la escuela se lo deja ver a más tardar el ${spanishDate(by)}`}`,
  rightsEnded: (on) => `cerrada el ${spanishDate(on)}`,
  rightsOutcomes: {
    inspected: "Usted vio el expediente.",
    amended: "El expediente se corrigió.",
    "not amended":
      "No se corrigió. Usted tiene derecho a una audiencia y a añadir una declaración al expediente.",
    "will be erased": "El expediente se borrará.",
    "not erased": "El expediente no se borra. La escuela le dijo por qué.",
    withdrawn: "Usted retiró la solicitud.",
  },
  accountTitle: "La próxima vez sin enlace",
  accountHint: (email) => `Elija una contraseña. Después entra con ${email} y ya no necesita el enlace.`,
  password: "Contraseña",
  passwordHint: "Al menos 12 caracteres; unas cuantas palabras sirven bien. Ninguna de las más comunes.",
  weakPassword: "Elija al menos 12 caracteres, y ninguna de las contraseñas más comunes.",
  keepAccount: "Crear una cuenta",
  accountThere: "Ya hay una cuenta con esta dirección. Escriba su contraseña.",
  accountMade: "Ya tiene una cuenta. La próxima vez entre con su dirección y su contraseña.",
  accessTitle: "Quién ha visto este expediente",
  accessAsk:
    "Usted tiene derecho a saber quién ha visto el expediente de su estudiante. Pídalo en la página anterior a la persona responsable del caso; después podrá leerlo aquí.",
  accessHint:
    "Quién miró el expediente, lo guardó, lo recibió o lo cambió. Lo que se miró varias veces en una hora tiene una sola línea.",
  older: "Líneas anteriores",
  newest: "Líneas más recientes",
  back: "Volver",
  print: "Imprimir",
  leave: "Cerrar esta página",
};
