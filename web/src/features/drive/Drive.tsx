// Drive: any two drives face to face on the same gauges, one part's window, or what else would do; the schematic beside it.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { call, client, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { Gauge } from "../../drawing/Gauge";
import { Wall } from "../load/Wall";
import { SchematicPane } from "../workspace/SchematicPane";
import type { FacetProps } from "../workspace/types";
import { useWorkspace } from "../workspace/useDesign";
import { Shortlist } from "./Shortlist";
import { WindowPanel } from "./WindowPanel";

const low = (title: string) =>
  /^[A-Z]{2}|^[A-Z]-|^MOSFET/.test(title) ? title : title.charAt(0).toLowerCase() + title.slice(1);

const MARKS: Record<string, string> = { fails: "✕", tight: "◐", fits: "⬢", proven: "⬢", unknown: "⬡" };

const ROWS = 6; // closest calls shown at first

/** The drives that could switch this load, each judged in the design; asked for when they are shown. */
function useOffers(block: string | undefined) {
  const { opened } = useWorkspace();
  return useQuery({
    queryKey: ["offers", opened.id, opened.stamp, block],
    queryFn: () =>
      call(
        client.POST("/api/offers", {
          body: { document: opened.document as unknown as Record<string, unknown>, block: block! },
        }),
      ),
    enabled: block !== undefined,
    placeholderData: (old) => old,
  });
}

function FaceOff({ onCard }: { onCard: (path: string) => void }) {
  const { answer, commit, channel } = useWorkspace();
  const { refused, cards, flow } = answer.evaluation;
  const mine = answer.evaluation.channels.find((c) => c.number === channel)?.blocks;
  const asked = useOffers(
    flow.blocks.find((b) => b.role === "drive" && (!mine || mine.includes(b.id)))?.id ??
      flow.blocks.find((b) => b.role === "drive")?.id,
  );
  const offers = asked.data?.offers ?? [];
  const used = offers.find((s) => s.in_use);
  const [first, setFirst] = useState<string | null>(null);
  const [picked, setPicked] = useState<string | null>(null);
  const [all, setAll] = useState(false);
  const a = offers.find((s) => s.kind === first) ?? used;
  const out = refused.find((r) => r.title === picked);
  // Across from the one in use: what was picked, else the simplest other one.
  const b = offers.find((s) => s.kind === picked && s !== a) ?? offers.find((s) => s !== a);
  if (!a || !b)
    return (
      <section className="face-off" aria-label="Drives compared">
        <p role="status" className="waiting">
          {asked.error
            ? "No answer from the server. It is tried again by itself."
            : asked.isPending && asked.fetchStatus !== "idle"
              ? "Trying every drive …"
              : "Nothing else can stand here. Pick a block of the flow to see what would fit around it."}
        </p>
      </section>
    );
  const titles = new Map([...a.compared, ...b.compared].map((c) => [c.about, c.title]));
  const of = (offer: S["Offered"], about: string) => offer.compared.find((c) => c.about === about)?.verdict;
  const cell = (offer: S["Offered"], about: string, flip: boolean) => {
    const v = of(offer, about);
    return v ? (
      <span className={`faced ${v.standing}`} title={v.sentence}>
        <b className="value">{v.figures}</b>
        <Gauge used={v.used} worst={v.used_worst} standing={v.standing} flip={flip} />
      </span>
    ) : (
      <span className="faced none">–</span>
    );
  };
  const costs = [...new Set([...a.costs, ...b.costs].map((c) => c.title))];
  const take = (s: S["Offered"]) => (
    <button className="do" onClick={() => void commit(s.changes, `${s.title} chosen`)}>
      Use it
    </button>
  );
  const hardest = (about: string) => Math.min(...[a, b].map((s) => of(s, about)?.left ?? 1));
  const subjects = [...titles.keys()];
  const closest = [...subjects].sort((x, y) => hardest(x) - hardest(y)).slice(0, ROWS);
  const shown = all ? subjects : subjects.filter((x) => closest.includes(x));
  const head = (s: S["Offered"], label: string, value: string, onPick: (kind: string) => void) => (
    <>
      <h3>
        <select aria-label={label} value={value} onChange={(e) => onPick(e.target.value)}>
          {offers
            .filter((o) => o === s || (o !== a && o !== b))
            .map((o) => (
              <option key={o.kind} value={o.kind}>
                {MARKS[o.standing ?? "unknown"]} {o.title}
              </option>
            ))}
          {s === b &&
            refused.map((r) => (
              <option key={r.title} value={r.title}>
                ✕ {r.title}
              </option>
            ))}
        </select>
        {s === b && out ? null : s.in_use ? <span className="now">in use</span> : take(s)}
      </h3>
      {!(s === b && out) && (
        <p className={s.standing === "fails" ? "fails" : ""}>
          <Glyph standing={s.standing ?? "unknown"} size={18} /> {s.note}
        </p>
      )}
    </>
  );
  return (
    <section className="face-off" aria-label="Drives compared">
      <div className="schools">
        <div className="school left">{head(a, "Compare", a.kind, setFirst)}</div>
        <div className="school right">{head(b, "Compare with", out ? out.title : b.kind, setPicked)}</div>
      </div>
      {out ? (
        <div className="refused-way">
          <p>
            <b>{out.title} is not built here.</b> {out.why}
          </p>
          <p>
            <b>Instead:</b> {out.instead}
          </p>
        </div>
      ) : (
        <>
          <ul className="faced-list">
            {shown.map((about) => (
              <li key={about}>
                {cell(a, about, true)}
                <span className="what">{titles.get(about)}</span>
                {cell(b, about, false)}
              </li>
            ))}
            {costs.map((c) => (
              <li key={c} className="cost">
                <b className="value">{a.costs.find((x) => x.title === c)?.text ?? "–"}</b>
                <span className="what">costs in {c}</span>
                <b className="value">{b.costs.find((x) => x.title === c)?.text ?? "–"}</b>
              </li>
            ))}
          </ul>
          {subjects.length > ROWS && (
            <button className="link" aria-expanded={all} onClick={() => setAll(!all)}>
              {all ? "Only the closest calls" : `${subjects.length - ROWS} more checks`}
            </button>
          )}
          <div className="foot">
            {[a, b].map((s) => (
              <p key={s.kind}>
                <b>Right when</b> {low(s.choose)} <b>Wrong when</b> {low(s.avoid)}{" "}
                <small>
                  {s.summary}; in drawer: <b className="value">{s.stock}</b>
                </small>
              </p>
            ))}
          </div>
        </>
      )}
      <p className="card-links">
        What else would do:{" "}
        {cards
          .filter((c) => c.role === "drive" || c.role === "guard")
          .map((c) => (
            <button key={c.path} className="link" onClick={() => onCard(c.path)}>
              {c.card_title}
            </button>
          ))}
      </p>
    </section>
  );
}

export function Drive(props: FacetProps) {
  const { answer } = useWorkspace();
  const { windows, cards, wall } = answer.evaluation;
  const picked = windows.find((w) => w.path === props.part);
  const card = cards.find((c) => c.path === props.part);
  const close = () => props.onPart(null);
  const panel = picked ? (
    <WindowPanel key={picked.path} window={picked} onClose={close} />
  ) : card ? (
    <Shortlist key={card.path} path={card.path} title={card.title} onClose={close} />
  ) : null;
  const schools = <FaceOff onCard={(p) => props.onPart(p)} />;
  // Near the wall the drawing comes first, and what lies above it stands beside.
  if (wall)
    return (
      <div className="two walled">
        {panel ?? <SchematicPane {...props} />}
        <div className="beyond">
          {panel ? (
            <SchematicPane {...props} />
          ) : (
            <>
              <Wall wall={wall} />
              {schools}
            </>
          )}
        </div>
      </div>
    );
  return (
    <div className="two">
      {panel ?? schools}
      <SchematicPane {...props} />
    </div>
  );
}
