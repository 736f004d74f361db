import { findNames, type NameFind, type NameIndex } from "#core/report/names/find-names.ts";
import { indexOfHashed } from "#core/report/names/hashed-names.ts";
import type { HashedNames } from "#core/report/names/hashed-names-schema.ts";
import { nameHash } from "#core/report/names/name-hash.ts";
import { say } from "#app/ui/say.ts";
import { namesHere } from "./names-here.ts";

const pause = 400;
type NoteField = HTMLTextAreaElement | HTMLInputElement;

let asked: Promise<HashedNames | null> | null = null;

/** The names of the school as hashes, asked for once a page; asked again where nothing answered. */
async function names(): Promise<HashedNames | null> {
  asked ??= namesHere();
  const found = await asked;
  if (!found) asked = null;
  return found;
}

/** Sets a field as if it had been typed, so that whoever listens hears of it. */
function write(field: NoteField, text: string): void {
  const prototype = field instanceof HTMLTextAreaElement ? HTMLTextAreaElement : HTMLInputElement;
  Object.getOwnPropertyDescriptor(prototype.prototype, "value")?.set?.call(field, text);
  field.dispatchEvent(new Event("input", { bubbles: true }));
}

function button(text: string, about: string, press: () => void): HTMLButtonElement {
  const made = document.createElement("button");
  made.type = "button";
  made.className = "btn btn-plain btn-sm";
  made.textContent = text;
  made.setAttribute("aria-label", `${text}: ${about}`);
  made.addEventListener("click", press);
  return made;
}

/**
 * A quiet line under a note that seems to name another student: it can be replaced, kept, or remembered as no name. It blocks nothing.
 * `about` is the student in whose record the note stands; the field is the one with the same parent.
 */
class NamesUnder extends HTMLElement {
  #kept = new Set<string>();
  #timer: ReturnType<typeof setTimeout> | undefined;
  #place: Element | null = null;
  #said = "";
  #listen = () => {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.look(), pause);
  };

  connectedCallback(): void {
    this.#place = this.parentElement;
    this.#place?.addEventListener("input", this.#listen);
    void this.look();
  }

  disconnectedCallback(): void {
    clearTimeout(this.#timer);
    this.#place?.removeEventListener("input", this.#listen);
  }

  /** Looked up each time: the page may draw its field anew. */
  get field(): NoteField | null {
    return this.#place?.querySelector("textarea") ?? this.#place?.querySelector("input") ?? null;
  }

  async look(): Promise<void> {
    const text = this.field?.value ?? "";
    const all = text.trim() === "" ? null : await names();
    if (this.field?.value !== text) return;
    const finds = all ? findNames(text, this.indexOf(all)) : [];
    this.draw(finds.filter(({ form }) => !this.#kept.has(form)));
  }

  indexOf(all: HashedNames): NameIndex {
    return indexOfHashed(all, this.getAttribute("about") ?? "", nameHash(all.salt));
  }

  draw(finds: readonly NameFind[]): void {
    const once = [...new Map(finds.map((find) => [find.form, find])).values()];
    this.replaceChildren(...once.map((find) => this.line(find)));
    const words = once.map(({ text }) => `This may name another student: ${text}.`).join(" ");
    if (words !== this.#said && words !== "") say(words);
    this.#said = words;
  }

  line({ text, form }: NameFind): HTMLElement {
    const line = document.createElement("span");
    line.className = "names-line";
    const words = document.createElement("span");
    words.append("May name another student: ");
    const mark = document.createElement("mark");
    mark.textContent = text;
    words.append(mark);
    line.append(
      words,
      button("Replace with “a peer”", text, () => this.replace(form)),
      button("Keep", text, () => this.keep(form)),
      button("Not a name here", text, () => this.remember(form)),
    );
    return line;
  }

  /** Replaces it wherever it stands in the note. */
  replace(form: string): void {
    const field = this.field;
    if (!field) return;
    void names().then((all) => {
      if (!all) return;
      const text = field.value;
      const places = findNames(text, this.indexOf(all)).filter((find) => find.form === form);
      write(
        field,
        places.reduceRight(
          (before, { from, to }) =>
            `${before.slice(0, from)}${/(?:^|[.!?]\s)$/.test(before.slice(0, from)) ? "A peer" : "a peer"}${before.slice(to)}`,
          text,
        ),
      );
      field.focus();
      void this.look();
    });
  }

  keep(form: string): void {
    this.#kept.add(form);
    this.field?.focus();
    void this.look();
  }

  /** Remembered on the server for this student's record; without a network for this page only. */
  remember(form: string): void {
    const body = new URLSearchParams({ studentId: this.getAttribute("about") ?? "", form });
    void fetch("/names", { method: "POST", body }).then(
      () => (asked = null),
      () => null,
    );
    this.keep(form);
  }
}

customElements.define("names-under", NamesUnder);
