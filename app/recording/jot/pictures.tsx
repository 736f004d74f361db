import { useEffect, useRef, useState } from "react";
import { v7 as newId } from "uuid";
import { mostPictures } from "#core/model/jot-rules.ts";
import { say } from "#app/ui/say.ts";
import { shrinkPicture } from "./shrink-picture.ts";

/** A picture that is being added, or one that is there already: its bytes in Base64 are known of those that were added here. */
export interface PictureDraft {
  pictureId: string;
  caption: string;
  data: string;
}

/** Asked for by name, so that a phone gives a copy as JPEG in place of a kind that many browsers cannot show. */
const accepted = "image/jpeg,image/png,image/webp";

/** The pictures of a jot: taken or chosen, each with the words for those who do not see it. */
export function JotPictures({
  pictures,
  placeOf = () => "",
  problem,
  onChange,
}: {
  pictures: readonly PictureDraft[];
  /** Where a picture is that is there already. */
  placeOf?: (pictureId: string) => string;
  /** What is wrong with the words of a picture. */
  problem: string | null;
  onChange: (pictures: PictureDraft[]) => void;
}) {
  const [busy, setBusy] = useState(false);
  const [refused, setRefused] = useState<string | null>(null);
  const list = useRef<HTMLUListElement>(null);
  const isAdded = useRef(false);
  // Its field is there once the list is drawn.
  useEffect(() => {
    if (!isAdded.current) return;
    isAdded.current = false;
    [...(list.current?.querySelectorAll("input") ?? [])].at(-1)?.focus();
  }, [pictures.length]);
  async function add(input: HTMLInputElement): Promise<void> {
    const files = [...(input.files ?? [])].slice(0, mostPictures - pictures.length);
    if (files.length === 0) return;
    setBusy(true);
    setRefused(null);
    const next = [...pictures];
    for (const file of files) {
      const shrunk = await shrinkPicture(file);
      if (shrunk.ok) next.push({ pictureId: newId(), caption: "", data: shrunk.data });
      else setRefused(shrunk.problem);
    }
    input.value = "";
    setBusy(false);
    isAdded.current = next.length > pictures.length;
    if (isAdded.current) say("Picture added. Say what it shows.");
    onChange(next);
  }
  const picker = (label: string, capture?: "environment") => (
    <label className={`btn btn-plain h-11 ${busy ? "btn-disabled" : ""}`}>
      {label}
      <input
        type="file"
        className="sr-only"
        accept={accepted}
        multiple={capture === undefined}
        {...(capture ? { capture } : {})}
        disabled={busy}
        onChange={({ target }) => void add(target)}
      />
    </label>
  );
  return (
    <section aria-label="Pictures" className="grid gap-2">
      <ul ref={list} className="grid gap-3 empty:hidden">
        {pictures.map(({ pictureId, caption, data }, at) => (
          <li key={pictureId} className="flex items-start gap-3">
            <img
              src={data === "" ? placeOf(pictureId) : `data:image/jpeg;base64,${data}`}
              alt={caption || `Picture ${at + 1}, without words yet`}
              className="h-24 w-28 shrink-0 rounded border border-base-300 object-cover"
            />
            <div className="min-w-0 flex-1">
              <label className="grid gap-1 text-fine font-bold">
                What picture {at + 1} shows
                <input
                  className="input h-11 w-full text-base font-normal"
                  maxLength={300}
                  value={caption}
                  aria-invalid={problem !== null && caption.trim() === "" ? true : undefined}
                  aria-describedby={problem !== null ? "jot-pictures-says" : undefined}
                  dir="auto"
                  onChange={({ target }) =>
                    onChange(
                      pictures.map((one) =>
                        one.pictureId === pictureId ? { ...one, caption: target.value } : one,
                      ),
                    )
                  }
                />
              </label>
              <button
                type="button"
                className="link min-h-11 text-fine"
                onClick={() => onChange(pictures.filter((one) => one.pictureId !== pictureId))}
              >
                Remove picture {at + 1}
              </button>
            </div>
          </li>
        ))}
      </ul>
      {problem !== null ? (
        <p id="jot-pictures-says" className="text-fine font-bold text-error">
          {problem}
        </p>
      ) : null}
      {pictures.length < mostPictures ? (
        <p className="flex flex-wrap items-center gap-2">
          {picker("Take a picture", "environment")}
          {picker("Choose pictures")}
          <span className="text-fine text-soft">
            {busy ? "Making it small …" : "No other student in the picture. Each picture needs a few words."}
          </span>
        </p>
      ) : (
        <p className="text-fine text-soft">At most {mostPictures} pictures in one jot.</p>
      )}
      <p role="alert" className="text-fine font-bold text-error empty:hidden">
        {refused}
      </p>
    </section>
  );
}
