// One card: its numbers, what its model gives back, its curve; an own card is edited here, an archetype is copied first.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { scaleLinear, scaleLog } from "d3-scale";
import { useState } from "react";
import { call, client, Refused, type Problem, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { show } from "../../drawing/format";
import { Formula } from "../../drawing/Formula";

function CurvePlot({ curve }: { curve: S["CardCurve"] }) {
  const [W, H, L, B] = [390, 190, 52, 34];
  const all = [
    ...curve.lines.flatMap(([, points]) => points as [number, number][]),
    ...curve.points.map(([x, y]) => [x, y] as [number, number]),
  ];
  const span = (k: 0 | 1, log: boolean) => {
    const v = all.map((p) => p[k]);
    return log ? [Math.min(...v), Math.max(...v)] : [0, Math.max(...v) * 1.05];
  };
  const x = (curve.x_log ? scaleLog() : scaleLinear()).domain(span(0, curve.x_log)).range([L, W - 20]);
  const y = (curve.y_log ? scaleLog() : scaleLinear()).domain(span(1, curve.y_log)).range([H - B, 8]);
  const ticks = (scale: typeof x, log: boolean) => {
    const decades = scale.ticks(4).filter((t) => /^1e/.test(t.toExponential()));
    return !log
      ? scale.ticks(5)
      : decades.length > 1
        ? decades
        : scale.ticks(4).filter((t) => /^[1235]e/.test(t.toExponential()));
  };
  return (
    <figure className="curve">
      <figcaption>
        <Formula text={curve.title} /> <small>from the model; hexagons are the card’s own numbers</small>
      </figcaption>
      <svg viewBox={`0 0 ${W} ${H}`} role="img" aria-label={`${curve.y_title} over ${curve.x_title}`}>
        {ticks(x, curve.x_log).map((t) => (
          <g key={t}>
            <path d={`M${x(t)} 8V${H - B}`} stroke="var(--rule)" />
            <text className="ruler" x={x(t)} y={H - 16} textAnchor="middle">
              {show(t, curve.x_unit)}
            </text>
          </g>
        ))}
        {ticks(y, curve.y_log).map((t) => (
          <g key={t}>
            <path d={`M${L} ${y(t)}H${W - 20}`} stroke="var(--rule)" />
            <text className="ruler" x={L - 5} y={y(t) + 4} textAnchor="end">
              {show(t, curve.y_unit)}
            </text>
          </g>
        ))}
        {curve.lines.map(([name, points], k) => (
          <g key={name}>
            <polyline
              points={(points as [number, number][]).map(([a, b]) => `${x(a)},${y(b)}`).join(" ")}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={2}
              strokeDasharray={k ? "6 4" : undefined}
            />
            {curve.lines.length > 1 && (
              <text className="ruler" x={L + 8} y={20 + 15 * k}>
                {k ? "- - " : "— "}
                {name}
              </text>
            )}
          </g>
        ))}
        {curve.points.map(([a, b], k) => (
          <path
            key={k}
            d="M-3.5 -6h7L7 0L3.5 6h-7L-7 0z"
            transform={`translate(${x(a)} ${y(b)})`}
            fill="var(--fits)"
            stroke="var(--paper)"
          />
        ))}
      </svg>
    </figure>
  );
}

/** What the card says and what the model gives back, with the tenth either way as a band. */
function GivenBack({ rows }: { rows: readonly S["Back"][] }) {
  return (
    <table className="given-back">
      <thead>
        <tr>
          <th>
            <span className="hidden">Value</span>
          </th>
          <th>the card says</th>
          <th>gives back</th>
          <th>within 10%</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((r, k) => (
          <tr key={k}>
            <td>
              <b>
                <Formula text={r.title} />
              </b>
            </td>
            <td>
              <b className="value">{r.says}</b>
              <small className="value">{r.at}</small>
            </td>
            <td className={`value ${r.within ? "" : "fails"}`}>{r.gives}</td>
            <td>
              <svg
                viewBox="-60 -12 120 24"
                width={120}
                height={24}
                role="img"
                aria-label={`${Math.round(r.off * 1000) / 10}% off`}
              >
                <rect x={-30} y={-12} width={60} height={24} fill="var(--wash-teal)" />
                <path d="M-60 0H60" stroke="var(--rule)" />
                <path d="M-30 -12v24M30 -12v24" stroke="var(--fits)" strokeWidth={1.6} />
                <path
                  d="M-3.5 -6h7L7 0L3.5 6h-7L-7 0z"
                  transform={`translate(${Math.max(-54, Math.min(54, r.off * 300))} 0)`}
                  fill={r.within ? "var(--fits)" : "var(--fails)"}
                  stroke="var(--sheet)"
                />
              </svg>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const ID = (title: string) =>
  title
    .toLowerCase()
    .replace(/[^a-z0-9.]+/g, "-")
    .replace(/^[-.]+|[-.]+$/g, "")
    .slice(0, 60);

/** A card's data with text put at a path such as "forward.0.voltage". */
function put(data: unknown, steps: string[], value: string): unknown {
  const [step, ...rest] = steps;
  if (step === undefined) return value;
  if (Array.isArray(data)) return data.map((v: unknown, k) => (String(k) === step ? put(v, rest, value) : v));
  return {
    ...(data as Record<string, unknown>),
    [step]: put((data as Record<string, unknown>)?.[step], rest, value),
  };
}

export function CardPanel({
  id,
  onSaved,
  onGone,
  onPick,
}: {
  id: string;
  onSaved: (all: S["DrawerOut"]) => void;
  onGone: (all: S["DrawerOut"]) => void;
  onPick: (id: string) => void;
}) {
  const queries = useQueryClient();
  const card = useQuery({
    queryKey: ["card", id],
    queryFn: () => call(client.GET("/api/cards/{card_id}", { params: { path: { card_id: id } } })),
  });
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [copy, setCopy] = useState(false);
  const [problems, setProblems] = useState<Problem[]>([]);
  const found = card.data;
  if (card.error)
    return (
      <aside className="card-panel">
        <p role="alert">This card cannot be shown: {card.error.message}</p>
      </aside>
    );
  if (!found)
    return (
      <aside className="card-panel" aria-busy="true">
        <p>Opening …</p>
      </aside>
    );
  const data = found.card as {
    title: string;
    kind: string;
    legs: string[];
    face: string;
    price: number;
    package?: string;
  };
  const editing = found.own || copy;
  const at = (path: string, kept: string) => typed[path] ?? kept;
  const problemAt = (path: string) =>
    problems.find((p) => p.field.replace(/\[(\d+)\]/g, ".$1") === path || p.field.endsWith(`.${path}`));
  const refuse = (e: unknown) =>
    setProblems(
      e instanceof Refused
        ? e.problems
        : [
            {
              field: "",
              message: "No answer from the server. What you typed is still here.",
              got: "",
              allowed: "",
              suggestion: null,
            },
          ],
    );
  const title = at("title", copy ? `${data.title}, mine` : data.title);
  const save = async () => {
    let body: unknown = found.card;
    for (const [path, text] of Object.entries(typed))
      body =
        path === "legs"
          ? { ...(body as object), legs: text.split(/[\s,]+/).filter(Boolean) }
          : put(body, path.split("."), text);
    const newId = copy ? ID(title) || "my-card" : id;
    try {
      const all = await call(
        client.PUT("/api/cards/{card_id}", {
          params: { path: { card_id: newId } },
          body: { card: { ...(body as object), title }, stock: null },
        }),
      );
      setTyped({});
      setProblems([]);
      setCopy(false);
      await queries.invalidateQueries({ queryKey: ["card"] });
      onSaved(all);
      if (newId !== id) onPick(newId);
    } catch (e) {
      refuse(e);
    }
  };
  const count = async (n: number) => {
    try {
      onSaved(
        await call(
          client.POST("/api/cards/{card_id}/stock", {
            params: { path: { card_id: id } },
            body: { stock: Math.max(0, n) },
          }),
        ),
      );
      void card.refetch();
    } catch (e) {
      refuse(e);
    }
  };
  const remove = async () => {
    try {
      onGone(await call(client.DELETE("/api/cards/{card_id}", { params: { path: { card_id: id } } })));
    } catch (e) {
      refuse(e);
    }
  };
  const field = (path: string, label: string, kept: string) => {
    const problem = problemAt(path);
    return (
      <label key={path} className={problem ? "refused" : ""}>
        <span>
          <Formula text={label} />
        </span>
        <input
          aria-label={label}
          aria-invalid={!!problem}
          readOnly={!editing}
          value={at(path, kept)}
          onChange={(e) => {
            setTyped({ ...typed, [path]: e.target.value });
            setProblems([]);
          }}
          onKeyDown={(e) => e.key === "Enter" && editing && void save()}
        />
        {problem && (
          <small role="alert">
            {problem.message}{" "}
            {problem.suggestion && (
              <button
                className="link"
                onClick={() => {
                  setTyped({ ...typed, [path]: problem.suggestion! });
                  setProblems([]);
                }}
              >
                Use {problem.suggestion}
              </button>
            )}
          </small>
        )}
      </label>
    );
  };
  const stray = problems.filter(
    (p) =>
      ![...found.fields.map((f) => f.path), "title", "price", "legs"].some((path) => problemAt(path) === p),
  );
  return (
    <aside className="card-panel" aria-label={data.title}>
      <header>
        <h2>{copy ? title : data.title}</h2>
        <p>
          {found.own ? "your own card" : "an archetype"}
          {found.used.length > 0
            ? `, used by ${found.used.length === 1 ? found.used[0] : `${found.used.length} designs`}`
            : ", used nowhere"}
        </p>
      </header>
      <div className="stock-row">
        <span>In drawer</span>{" "}
        <button className="secondary" aria-label="One less" onClick={() => void count(found.stock - 1)}>
          −
        </button>
        <b className="value">{found.stock}</b>
        <button className="secondary" aria-label="One more" onClick={() => void count(found.stock + 1)}>
          +
        </button>
      </div>
      {found.back.length > 0 && <GivenBack rows={found.back} />}
      {found.curve && <CurvePlot curve={found.curve as S["CardCurve"]} />}
      <div className="legs-row">
        {data.legs.length > 0 && (
          <svg
            viewBox="0 0 110 62"
            width={110}
            height={62}
            role="img"
            aria-label={`Legs ${data.legs.join(", ")}`}
          >
            <path d="M10 4h90v6h4v22h-98v-22h4z" fill="var(--sheet)" stroke="var(--ink)" strokeWidth={1.6} />
            {data.legs.map((l, k) => {
              const x = 110 * ((k + 1) / (data.legs.length + 1));
              return (
                <g key={k}>
                  <path d={`M${x} 32v13`} stroke="var(--ink)" strokeWidth={2} />
                  {data.legs.length < 9 && (
                    <text className="ruler" x={x} y={58} textAnchor="middle">
                      {l.slice(0, 4)}
                    </text>
                  )}
                </g>
              );
            })}
          </svg>
        )}
        <span>
          {data.face && <small>Legs, {data.face}</small>}
          {editing && field("legs", "Leg order", data.legs.join(" "))}
        </span>
      </div>
      <div className="card-fields">
        {editing && field("title", "Name", title)}
        {editing && field("price", "Price", String(data.price))}
        {found.fields.map((f) => field(f.path, f.title, f.text))}
      </div>
      {stray.map((p) => (
        <p key={p.message} role="alert" className="fails">
          <Glyph standing="fails" size={16} /> {p.message}
        </p>
      ))}
      <div className="actions">
        {editing ? (
          <>
            <button className="primary" onClick={() => void save()}>
              {copy ? "Keep as my card" : "Keep the changes"}
            </button>
            {(copy || Object.keys(typed).length > 0) && (
              <button
                className="secondary"
                onClick={() => {
                  setTyped({});
                  setProblems([]);
                  setCopy(false);
                }}
              >
                Leave it as it was
              </button>
            )}
            {found.own && !copy && (
              <button className="link" onClick={() => void remove()}>
                Take it out
              </button>
            )}
          </>
        ) : null}
        {!copy && (
          <button className={editing ? "link" : "primary"} onClick={() => setCopy(true)}>
            Copy to a card of my own
          </button>
        )}
        {found.own && found.used.length > 0 && (
          <small>
            {found.used.length} {found.used.length === 1 ? "design follows" : "designs follow"} what you
            change.
          </small>
        )}
      </div>
    </aside>
  );
}
