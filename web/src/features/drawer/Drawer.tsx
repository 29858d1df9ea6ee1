// The drawer as a list: what there is and how many.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { call, client } from "../../api/client";
import { Header } from "../workspace/Header";

const KIND: Record<string, string> = { resistor: "Resistors", capacitor: "Capacitors", diode: "Diodes", zener: "Zeners", led: "LEDs", npn: "Bipolars, NPN", pnp: "Bipolars, PNP",
  n_mosfet: "MOSFETs, N", p_mosfet: "MOSFETs, P", thyristor: "Thyristors", optocoupler: "Optocouplers", relay: "Relays", potentiometer: "Potentiometers", lamp: "Lamps",
  motor: "Motors", module: "Modules", buzzer: "Buzzers", timer: "Timers", counter: "Counters", comparator: "Comparators",
};

export function DrawerPage() {
  const drawer = useQuery({ queryKey: ["drawer"], queryFn: () => call(client.GET("/api/drawer")) });
  const [kind, setKind] = useState<string | null>(null);
  const all = drawer.data ?? [];
  const kinds = [...new Set(all.map((c) => c.kind))];
  const shown = all.filter((c) => !kind || c.kind === kind);
  return (
    <div className="drawer-page">
      <Header onFind={() => setKind(null)} count={`${all.length} cards, ${all.reduce((n, c) => n + c.stock, 0)} parts`} />
      <nav className="drawer-kinds" aria-label="Kinds of part">
        <h2>Parts drawer</h2>
        <button aria-pressed={kind === null} onClick={() => setKind(null)}>Everything <span className="value">{all.length}</span></button>
        {kinds.map((k) => <button key={k} aria-pressed={kind === k} onClick={() => setKind(k)}>{KIND[k] ?? k} <span className="value">{all.filter((c) => c.kind === k).length}</span></button>)}
        <p className="later">Editing, own cards and import come in a later version.</p>
      </nav>
      <main tabIndex={0}>
        {drawer.error && <p className="offline" role="alert">No answer from the server. <button className="link" onClick={() => void drawer.refetch()}>Try again</button></p>}
        <table className="parts"><thead><tr><th>Part</th><th>Kind</th><th>In drawer</th></tr></thead><tbody>
          {shown.map((c) => <tr key={c.id}><td><b>{c.title}</b></td><td>{KIND[c.kind] ?? c.kind}</td><td className="value">{c.stock || <span className="fails">none</span>}</td></tr>)}
        </tbody></table>
      </main>
    </div>
  );
}
