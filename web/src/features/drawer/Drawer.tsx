// The parts drawer: kinds on the left, cards with stock and where they are used, one card opened on the right, files in and out.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { call, client, Refused, Unreachable, type S } from "../../api/client";
import { EVERYWHERE, useKeys } from "../find/keys";
import { KeysDialog } from "../find/Keys";
import { Header } from "../workspace/Header";
import { CardPanel } from "./CardPanel";
import { ImportPanel } from "./ImportPanel";

const GROUPS: [string, string[]][] = [
  ["Resistors", ["resistor", "potentiometer"]],
  ["Capacitors", ["capacitor"]],
  ["MOSFETs", ["n_mosfet", "p_mosfet"]],
  ["Bipolars", ["npn", "pnp"]],
  ["Diodes, zeners", ["diode", "zener", "bridge"]],
  ["LEDs", ["led"]],
  ["Relays", ["relay"]],
  ["Timers, counters", ["timer", "counter", "comparator"]],
  ["Optocouplers", ["optocoupler", "thyristor"]],
  ["Fuses", ["fuse"]],
  ["Loads", ["lamp", "motor", "module", "buzzer"]],
];

/** A kind's symbol, as in the schematic. */
function Mark({ shapes }: { shapes: readonly S["Shape"][] | undefined }) {
  return (
    <svg
      className="mark-symbol"
      viewBox="-4 -3.4 8 6.8"
      width={38}
      height={32}
      aria-hidden
      fill="none"
      stroke="var(--ink)"
      strokeWidth={0.28}
    >
      {shapes?.map((s, k) => (
        <path key={k} d={s.d} fill={s.solid ? "var(--ink)" : "none"} strokeWidth={s.bold ? 0.5 : undefined} />
      ))}
    </svg>
  );
}

export function DrawerPage() {
  const queries = useQueryClient();
  const drawer = useQuery({ queryKey: ["drawer"], queryFn: () => call(client.GET("/api/drawer")) });
  const [search, setSearch] = useSearchParams();
  const [group, setGroup] = useState<string | null>(null);
  const [only, setOnly] = useState({ stock: false, used: false, buy: false });
  const [words, setWords] = useState("");
  const [file, setFile] = useState<{ name: string; rows: readonly S["Row"][] } | null>(null);
  const [notice, setNotice] = useState("");
  const picker = useRef<HTMLInputElement>(null);
  const finder = useRef<HTMLInputElement>(null);
  const all = drawer.data?.cards ?? [];
  const kinds = GROUPS.find(([name]) => name === group)?.[1];
  const shown = all.filter(
    (c) =>
      (!kinds || kinds.includes(c.kind)) &&
      (!only.stock || c.stock > 0) &&
      (!only.used || c.used.length > 0) &&
      (!only.buy || c.used.length > c.stock) &&
      `${c.title} ${c.brief}`.toLowerCase().includes(words.toLowerCase()),
  );
  const picked = search.get("card") ?? shown.find((c) => c.kind !== "resistor")?.id ?? shown[0]?.id ?? null;
  const pick = (id: string) => setSearch({ card: id }, { replace: true });
  const take = (fresh: S["DrawerOut"]) => queries.setQueryData(["drawer"], fresh);
  const undo = async () => {
    const label = drawer.data?.undo;
    if (!label) return;
    take(await call(client.POST("/api/drawer/undo")));
    await queries.invalidateQueries({ queryKey: ["card"] });
    setNotice(`Undone: ${label}`);
  };
  const read = async (f: File | undefined) => {
    if (!f) return;
    try {
      setFile({
        name: f.name,
        rows: await call(client.POST("/api/drawer/read", { body: { name: f.name, text: await f.text() } })),
      });
      setNotice("");
    } catch (e) {
      setNotice(
        e instanceof Refused
          ? `${f.name} was not read: ${e.message}`
          : e instanceof Unreachable
            ? e.message
            : "The file could not be read.",
      );
    }
  };
  const [keys, setKeys] = useState(false);
  useKeys(EVERYWHERE, [
    { shown: "Ctrl Z", words: "undo", press: ["Ctrl+Z"], act: () => void undo() },
    { shown: "/", words: "find a card", press: ["/"], act: () => finder.current?.focus() },
    { shown: "?", words: "this sheet", press: ["?"], act: () => setKeys(true) },
  ]);
  const check = (key: keyof typeof only, text: string) => (
    <label className="tick">
      <input
        type="checkbox"
        checked={only[key]}
        onChange={(e) => setOnly({ ...only, [key]: e.target.checked })}
      />{" "}
      {text}
    </label>
  );
  return (
    <div className="drawer-page">
      <Header
        onFind={() => finder.current?.focus()}
        undo={{
          label: drawer.data?.undo ? `Undo: ${drawer.data.undo}` : "Nothing to undo",
          on: !!drawer.data?.undo,
          do: () => void undo(),
        }}
      />
      <nav className="drawer-kinds" aria-label="Kinds of part">
        <h2>Parts drawer</h2>
        <p className="drawer-count">
          {all.length} cards, {all.reduce((n, c) => n + c.stock, 0)} parts
        </p>
        <button aria-pressed={group === null} onClick={() => setGroup(null)}>
          Everything <span className="value">{all.length}</span>
        </button>
        {GROUPS.map(([name, of]) => (
          <button key={name} aria-pressed={group === name} onClick={() => setGroup(name)}>
            {name} <span className="value">{all.filter((c) => of.includes(c.kind)).length}</span>
          </button>
        ))}
        <div className="only">
          <small>Show only</small>
          {check("stock", "in stock")}
          {check("used", "used somewhere")}
          {check("buy", "to buy")}
        </div>
      </nav>
      <main>
        <h1 className="hidden">Parts drawer</h1>
        <header className="drawer-head">
          <h2>{group ?? "Everything"}</h2>
          <input
            ref={finder}
            className="drawer-find"
            type="search"
            aria-label="Find a card"
            placeholder="Find a card"
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
          <button className="secondary" onClick={() => picker.current?.click()}>
            Import
          </button>
          <a className="secondary" href="/api/drawer/export/csv" download>
            Export CSV
          </a>
          <a className="link" href="/api/drawer/export/json" download>
            JSON
          </a>
          <input
            ref={picker}
            type="file"
            accept=".csv,.json,.txt"
            hidden
            aria-label="File of cards"
            onChange={(e) => {
              void read(e.target.files?.[0]);
              e.target.value = "";
            }}
          />
        </header>
        {notice && (
          <p role="status" className="notice-line">
            {notice}
          </p>
        )}
        {drawer.error && (
          <p className="offline" role="alert">
            No answer from the server.{" "}
            <button className="link" onClick={() => void drawer.refetch()}>
              Try again
            </button>
          </p>
        )}
        <ul className="cards" aria-label="Cards">
          {shown.map((c) => (
            <li key={c.id}>
              <button aria-pressed={picked === c.id} onClick={() => pick(c.id)}>
                <Mark shapes={drawer.data?.glyphs[c.kind]} />
                <span>
                  <b>{c.title}</b>
                  <small className="value">
                    {c.brief}
                    {c.legs.length > 2 && c.legs.length < 6
                      ? `  legs ${c.legs.map((l) => l.toUpperCase()).join(" ")}`
                      : ""}
                  </small>
                </span>
                <span>
                  <b className="value">
                    {c.stock > 0 ? c.stock : <span className={c.used.length > 0 ? "fails" : ""}>none</span>}
                  </b>
                  <small>
                    {c.used.length === 0
                      ? c.own
                        ? "your card"
                        : ""
                      : c.used.length <= 2
                        ? c.used.join(", ")
                        : `${c.used[0]}, ${c.used.length - 1} more`}
                  </small>
                </span>
              </button>
            </li>
          ))}
          {shown.length === 0 && !drawer.isPending && (
            <li className="hint">No card is like that. Show everything, or copy one and change it.</li>
          )}
        </ul>
        {file && (
          <ImportPanel
            name={file.name}
            rows={file.rows}
            onClose={() => setFile(null)}
            onKept={(fresh) => {
              take(fresh);
              setFile(null);
              setNotice(`${file.name} imported. Undo takes it all back.`);
            }}
          />
        )}
      </main>
      <KeysDialog open={keys} onClose={() => setKeys(false)} />
      {picked && (
        <CardPanel
          key={picked}
          id={picked}
          onPick={pick}
          onSaved={take}
          onGone={(fresh) => {
            take(fresh);
            setSearch({});
          }}
        />
      )}
    </div>
  );
}
