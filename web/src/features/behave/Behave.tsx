// Behave: what the load does and when; what else it could do, and the values that give a behaviour its time.
import { Glyph } from "../../drawing/Badge";
import { Pictogram } from "../../drawing/Pictogram";
import { usePicked } from "../flow";
import { SchematicPane } from "../workspace/SchematicPane";
import type { FacetProps } from "../workspace/types";
import { useWorkspace } from "../workspace/useDesign";
import { FinderPane } from "./FinderPane";
import { HangsPane } from "./HangsPane";
import { HoldingPane } from "./HoldingPane";
import { InsidePane } from "./InsidePane";
import { OrdersPane } from "./OrdersPane";
import { OtherwisePane } from "./OtherwisePane";
import { PlatesPane } from "./PlatesPane";
import { PressPane } from "./PressPane";
import { StepsPane } from "./StepsPane";
import { TurnPane } from "./TurnPane";

/** What the design does now, and every behaviour it could be given. */
function Behaviours() {
  const { answer, facets, commit } = useWorkspace();
  const { pick } = usePicked();
  const { behaviours } = answer.evaluation;
  const now = behaviours.filter((b) => b.in_use);
  const follows = facets.find((f) => f.facet === "behave")?.summary ?? "";
  return (
    <ul className="kinds" aria-label="Behaviours">
      {now.map((b) => (
        <li key={b.block}>
          <button aria-pressed onClick={() => pick(b.block)}>
            <Pictogram name={b.picture} />
            <span>
              <b>{b.title}</b>
              <small>{b.summary}</small>
            </span>
          </button>
        </li>
      ))}
      {now.length === 0 && (
        <li>
          <button aria-pressed>
            <Pictogram name="heater" />
            <span>
              <b>{follows}</b>
              <small>on for as long as it is meant</small>
            </span>
          </button>
        </li>
      )}
      {now.length < behaviours.length && <li className="legend">It could also</li>}
      {behaviours
        .filter((b) => !b.in_use)
        .map((b) => (
          <li key={b.kind}>
            <button
              onClick={() => void commit(b.changes, `${b.title} put in`)}
              title={`${b.choose} Put it in.`}
            >
              <Pictogram name={b.picture} />
              <span>
                <b>{b.title}</b>
                <small>{b.purpose}</small>
              </span>
            </button>
          </li>
        ))}
    </ul>
  );
}

function States() {
  const { truth, joints } = useWorkspace().answer.evaluation;
  return (
    <section className="truth" aria-label="What it does" tabIndex={0}>
      <h3>What it does when</h3>
      <table>
        <thead>
          <tr>
            <th>State</th>
            <th>Load</th>
            <th>Why</th>
          </tr>
        </thead>
        <tbody>
          {truth.map((t) => (
            <tr key={t.state}>
              <td>{t.state}</td>
              <td>
                {t.standing && <Glyph standing={t.standing} size={16} />} {t.load}
              </td>
              <td>{t.why}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {joints.length > 0 && <h3>Where signal and drive meet</h3>}
      <table>
        <tbody>
          {joints.map((j) => (
            <tr key={j.title}>
              <td>
                <Glyph standing={j.standing} size={16} /> {j.title}
              </td>
              <td colSpan={2}>{j.text}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

export function Behave(props: FacetProps) {
  const { answer } = useWorkspace();
  const { finder, turns, timed, pressed, stateful, selects, behaviours } = answer.evaluation;
  const insides = answer.rehearsal?.insides ?? [];
  const plates = answer.rehearsal?.plates ?? [];
  if (finder || turns.length > 0)
    return (
      <div className="two behaving">
        <div>
          {finder && <FinderPane finder={finder} />}
          {turns.map((map) => (
            <TurnPane key={map.path} map={map} />
          ))}
          {insides.map((inside) => (
            <InsidePane key={inside.ref} inside={inside} />
          ))}
          {plates.map((p) => (
            <PlatesPane key={p.ref} plates={p} />
          ))}
          {pressed && <PressPane />}
          {stateful && <HoldingPane />}
          {timed && <OtherwisePane />}
          {timed && <HangsPane />}
          <States />
          {answer.rehearsal && <StepsPane r={answer.rehearsal} />}
          <Behaviours />
        </div>
        <SchematicPane {...props} />
      </div>
    );
  return (
    <div className="guard behave">
      <Behaviours />
      <div className="behave-middle">
        {pressed && behaviours.some((b) => b.in_use) && <PressPane />}
        {selects && <OrdersPane />}
        <States />
        {answer.rehearsal && behaviours.some((b) => b.in_use) && <StepsPane r={answer.rehearsal} />}
        {stateful && <HoldingPane />}
      </div>
      <SchematicPane {...props} />
    </div>
  );
}
