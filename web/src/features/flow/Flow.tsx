// The flow: the design's blocks in a row, how each stands, and a seat in every join where something can go.
import { useMemo, useRef, useState, type KeyboardEvent } from "react";
import { Glyph } from "../../drawing/Badge";
import { useWidth } from "../../drawing/useRoom";
import { useKeys } from "../find/keys";
import { useWorkspace } from "../workspace/useDesign";
import { layout, ROLES, SLIM, TALL, type Block, type Box, type Line } from "./layout";
import { usePicked, type Where } from "./picked";

const BEVEL = 8;
const outline = (x: number, y: number, w: number, h: number) =>
  `M${x + BEVEL} ${y}h${w - 2 * BEVEL}l${BEVEL} ${BEVEL}v${h - 2 * BEVEL}l${-BEVEL} ${BEVEL}h${-(w - 2 * BEVEL)}` +
  `l${-BEVEL} ${-BEVEL}v${-(h - 2 * BEVEL)}z`;
const SEAT = "M-4.5 0L-2.4 -4h4.8L4.5 0L2.4 4h-4.8z";

let pencil: CanvasRenderingContext2D | null = null;
function measure(text: string, bold: boolean): number {
  pencil ??= document.createElement("canvas").getContext("2d");
  if (!pencil) return text.length * 8;
  pencil.font = bold ? '700 13.5px "Atkinson Hyperlegible Next"' : '400 13px "Atkinson Hyperlegible Mono"';
  return pencil.measureText(text).width;
}

const told = (block: Block) =>
  `${ROLES[block.role]}: ${block.title}, ${block.value}, ${block.standing}` +
  (block.open.length > 0 ? ", something must be joined to it" : "");

export function Flow({ lit }: { lit: ReadonlySet<string> }) {
  const { answer, opened } = useWorkspace();
  const { flow } = answer.evaluation;
  const { picked, pick } = usePicked();
  const [shown, setShown] = useState<ReadonlySet<string>>(new Set());
  const [at, setAt] = useState(0);
  const [box, room] = useWidth<HTMLDivElement>();
  const group = useRef<SVGSVGElement>(null);
  const plan = useMemo(() => layout(flow, room, picked, shown, measure), [flow, room, picked, shown]);
  const known = opened.document.blocks as Record<string, unknown>;

  useKeys("Flow of blocks", [
    { shown: "← →", words: "the block before, after" },
    { shown: "Alt ← →", words: "the place to put one in" },
    { shown: "Enter", words: "pick it, or ask what fits" },
    { shown: "Del", words: "take it out, told first" },
    { shown: "Esc", words: "leave it" },
  ]);
  const step = (event: KeyboardEvent<SVGSVGElement>) => {
    const way = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -1, ArrowDown: 1 }[event.key];
    if (!way) return;
    const kind = event.altKey ? "[data-seat]" : "[data-box]";
    const stops = [...group.current!.querySelectorAll<SVGGElement>(kind)];
    const here = document.activeElement as Element | null;
    const x = Number(here?.getAttribute("data-x") ?? 0);
    const far = (s: SVGGElement) => (Number(s.getAttribute("data-x")) - x) * way;
    const own = here?.matches(kind) ? stops.indexOf(here as SVGGElement) : -1;
    const next =
      own >= 0 ? stops[own + way] : stops.filter((s) => far(s) > 0).sort((a, b) => far(a) - far(b))[0];
    if (next) next.focus();
    event.preventDefault();
    event.stopPropagation();
  };
  const act = (block: string, where?: Where) => (event: KeyboardEvent) => {
    const verb = event.key === "Delete" || event.key === "Backspace" ? "remove" : where;
    if (event.key === "Escape") pick(null);
    else if (event.key === "Enter" || event.key === " " || verb === "remove") pick(block, verb);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    <div className="flow" ref={box}>
      <Upright lit={lit} />
      <svg
        ref={group}
        width={plan.width}
        height={plan.height}
        role="group"
        aria-label="Flow of blocks"
        onKeyDown={step}
      >
        {plan.lines.map((l) => (
          <path
            key={`${l.join.begin} ${l.join.end}`}
            d={l.d}
            className={lit.has(l.join.part) ? "join live" : "join"}
          />
        ))}
        {plan.boxes.map((b, k) => (
          <BlockBox
            key={b.blocks[0]!.id}
            box={b}
            picked={picked}
            tried={!(b.blocks[0]!.id in known)}
            stop={k === Math.min(at, plan.boxes.length - 1)}
            onFocus={() => setAt(k)}
            onPick={() =>
              b.blocks.length > 1 ? setShown(new Set(b.blocks.map((c) => c.id))) : pick(b.blocks[0]!.id)
            }
            onKey={
              b.blocks.length > 1
                ? (e) => {
                    if (e.key !== "Enter" && e.key !== " ") return;
                    e.preventDefault();
                    setShown(new Set(b.blocks.map((c) => c.id)));
                  }
                : act(b.blocks[0]!.id)
            }
          />
        ))}
        {plan.lines.map((l) => (
          <Seat key={`${l.join.begin} ${l.join.end}`} line={l} picked={picked} act={act} pick={pick} />
        ))}
      </svg>
    </div>
  );
}

function Seat({
  line,
  picked,
  act,
  pick,
}: {
  line: Line;
  picked: string | null;
  act: (block: string, where?: Where) => (event: KeyboardEvent) => void;
  pick: (block: string, where?: Where) => void;
}) {
  const [before, after] = [line.from.blocks.at(-1)!, line.to.blocks[0]!];
  const beside = picked !== null && (before.id === picked || after.id === picked);
  const [block, where]: [string, Where] = after.id === picked ? [after.id, "before"] : [before.id, "after"];
  return (
    <g
      data-seat
      data-x={line.seat[0]}
      className={`seat ${beside ? "beside" : ""}`}
      role="button"
      tabIndex={-1}
      aria-label={`Between ${before.title} and ${after.title}: what fits here`}
      transform={`translate(${line.seat[0]} ${line.seat[1]})`}
      onClick={() => pick(block, where)}
      onKeyDown={act(block, where)}
    >
      <rect x={-12} y={-16} width={24} height={32} fill="transparent" />
      <path d={SEAT} transform={beside ? "scale(2)" : undefined} vectorEffect="non-scaling-stroke" />
      {beside && <path d="M-4 0h8M0 -4v8" className="plus" />}
    </g>
  );
}

function BlockBox({
  box,
  picked,
  tried,
  stop,
  onFocus,
  onPick,
  onKey,
}: {
  box: Box;
  picked: string | null;
  tried: boolean;
  stop: boolean;
  onFocus: () => void;
  onPick: () => void;
  onKey: (event: KeyboardEvent) => void;
}) {
  const { blocks, x, y, w, slim } = box;
  const h = slim ? SLIM : TALL;
  const many = blocks.length > 1;
  const mine = blocks.some((b) => b.id === picked);
  const name = many
    ? `${blocks.length} folded, worst ${box.standing}: ${blocks.map((b) => b.title).join(", ")}`
    : told(blocks[0]!);
  return (
    <g
      data-box
      data-x={x + w / 2}
      className={`block ${mine ? "picked" : ""} ${tried ? "tried" : ""}`}
      role="button"
      tabIndex={stop ? 0 : -1}
      aria-label={name}
      aria-pressed={many ? undefined : mine}
      onFocus={onFocus}
      onClick={onPick}
      onKeyDown={onKey}
    >
      {box.label && (
        <text className="role" x={x + w / 2} y={y - 12} textAnchor="middle">
          {box.label}
        </text>
      )}
      <path className="ring" d={outline(x - 5, y - 5, w + 10, h + 10)} />
      {many && <path className="outline behind" d={outline(x + 5, y + 5, w, h)} />}
      <path className="outline" d={outline(x, y, w, h)} />{" "}
      <foreignObject
        x={x + (slim ? 28 : 9)}
        y={y + (slim ? 5 : 4)}
        width={w - (slim ? 32 : 14)}
        height={h - 4}
      >
        <div className={many ? "said folded" : slim ? "said slim" : "said"}>
          <b>{many ? blocks.length : blocks[0]!.title}</b>{" "}
          <span className="value">{!many && blocks[0]!.value}</span>
        </div>
      </foreignObject>
      {!slim && <path className="lid" d={`M${x + 4} ${y - 2}h22v4h-22z`} />}
      <g transform={`translate(${x + 6} ${slim ? y + 5 : y - 10})`}>
        <Glyph standing={box.standing} size={18} />
      </g>
    </g>
  );
}

/** On a phone the flow stands upright, one block below the other. */
function Upright({ lit }: { lit: ReadonlySet<string> }) {
  const { flow } = useWorkspace().answer.evaluation;
  const { picked, pick } = usePicked();
  const live = new Set(flow.joins.filter((j) => lit.has(j.part)).map((j) => j.end.split(".")[0]));
  return (
    <ol className="upright" aria-label="Flow of blocks, upright">
      {flow.blocks.map((b) => (
        <li key={b.id} className={`${b.id === picked ? "picked" : ""} ${live.has(b.id) ? "live" : ""}`}>
          <button aria-pressed={b.id === picked} onClick={() => pick(b.id === picked ? null : b.id)}>
            <Glyph standing={b.standing} />
            <span>
              <small>
                {ROLES[b.role]}
                {flow.channels > 1 && b.channel != null ? ` ${b.channel + 1}` : ""}
              </small>
              <b>{b.title}</b>
            </span>
            <b className="value">{b.value}</b>
          </button>
          {b.id === picked && (
            <div className="ways" role="group" aria-label={`Around the ${b.title}`}>
              {(["instead", "before", "after", "remove"] as const).map((where) => (
                <button key={where} onClick={() => pick(b.id, where)}>
                  {where.charAt(0).toUpperCase() + where.slice(1)}
                </button>
              ))}
            </div>
          )}
        </li>
      ))}
    </ol>
  );
}
