// What mends a failing check, the drawer's first: each with the check afterwards and what else it cures.
import { useEffect, useState } from "react";
import { call, client, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { Gauge } from "../../drawing/Gauge";
import { useWorkspace } from "../workspace/useDesign";

type V = S["Verdict"];
type Mend = S["Mend"];

/** What to do about a check: what the program can do at once, else what it finds. */
export function Remedy({ v }: { v: V }) {
  const { commit } = useWorkspace();
  const [asked, setAsked] = useState(false);
  const remedy = v.remedy;
  if (!remedy) return null;
  const changes = remedy.changes ?? [];
  return (
    <>
      <p className="remedy">
        {changes.length > 0 ? (
          <button className="do" onClick={() => void commit(changes, remedy.text)}>
            {remedy.text}
          </button>
        ) : (
          <span>{remedy.text}</span>
        )}
        {remedy.stock != null && changes.length > 0 && (
          <small>
            In drawer: <b className="value">{remedy.stock}</b>
          </small>
        )}
        <button className="do" aria-expanded={asked} onClick={() => setAsked(!asked)}>
          {asked ? "Fold what mends it" : "What mends it"}
        </button>
      </p>
      {asked && <Found v={v} />}
    </>
  );
}

function Found({ v }: { v: V }) {
  const { opened, commit, setNotice, tryOut, trying } = useWorkspace();
  const [found, setFound] = useState<S["Mends"] | null>(null);
  const [tried, setTried] = useState<string | null>(null);
  const [silent, setSilent] = useState(false);
  useEffect(() => {
    let gone = false;
    call(
      client.POST("/api/mends", {
        body: { document: opened.document as unknown as Record<string, unknown>, verdict: v.id },
      }),
    ).then(
      (answer) => !gone && setFound(answer),
      () => !gone && setSilent(true),
    );
    return () => {
      gone = true;
    };
  }, [opened.document, v.id]);
  useEffect(() => () => tryOut(null), [tryOut]);
  const use = async (mend: Mend) => {
    const problems = await commit([...mend.changes], `Mended: ${mend.text}`);
    setNotice(
      problems ? problems[0]!.message : `Mended: ${mend.text.replace(/\.$/, "")}. Ctrl+Z takes it back.`,
    );
  };
  const attempt = (mend: Mend) => {
    const leave = tried === mend.text && trying !== null;
    setTried(leave ? null : mend.text);
    tryOut(leave ? null : mend.changes);
  };
  if (silent) return <p role="alert">No answer from the server. Open it again to ask once more.</p>;
  if (!found) return <p role="status">Looking through values, the drawer, guards and drives …</p>;
  if (found.mends.length === 0)
    return <p>Nothing was found that mends this and breaks nothing else. Look at what you know of it.</p>;
  return (
    <div className="mends">
      <ul>
        {found.mends.map((m) => (
          <li key={m.text} className={tried === m.text && trying ? "tried" : ""}>
            <Glyph standing={m.standing} size={18} />
            <div>
              <b>{m.text}</b>
              <small>{m.sentence}</small>
              <Gauge used={m.used} worst={m.used_worst} standing={m.standing} height={12} />
              <small>
                {m.margin}
                {found.follow > 0 && `, ${cured(m.cures, found.follow)}`}
              </small>
            </div>
            <span className="mend-do">
              <small>{stocked(m.stock)}</small>
              <button
                className="secondary"
                aria-pressed={tried === m.text && trying !== null}
                onClick={() => attempt(m)}
              >
                Try
              </button>
              <button className="do" onClick={() => void use(m)}>
                Use
              </button>
            </span>
          </li>
        ))}
      </ul>
      {(found.useless ?? []).map((u) => (
        <p key={u.text} className="useless">
          <span aria-hidden>—</span> Does not mend it: {u.text} alone, still {u.margin}.
        </p>
      ))}
    </div>
  );
}

const cured = (cures: number, follow: number) =>
  cures === follow ? `and all ${follow} that follow` : `and ${cures} of ${follow} that follow`;
const stocked = (stock: number | null | undefined) =>
  stock == null ? "nothing new" : stock > 0 ? `drawer ${stock}` : "to buy";
