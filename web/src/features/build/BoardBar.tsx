// Over the map: what is shown, how the plan stands, whether it is proven, and what can be done to it.
import { Glyph } from "../../drawing/Badge";
import { useWorkspace } from "../workspace/useDesign";
import { Underway } from "../behave/Underway";
import { BoardsOwned } from "./BoardsOwned";
import type { useBoard } from "./useBoard";

type Props = {
  board: ReturnType<typeof useBoard>;
  listed: boolean;
  onListed: (on: boolean) => void;
  picked: string | null;
  onPick: (part: string | null) => void;
};

export function BoardBar({ board, listed, onListed, picked, onPick }: Props) {
  const { opened, bench } = useWorkspace();
  const { view, step } = board;
  const part = view?.plan.placings.find((p) => p.part === picked);
  const pinned = picked !== null && (view?.plan.pinned ?? []).includes(picked);
  const wrong = view?.findings ?? [];
  return (
    <>
      <div className="board-bar">
        <div className="toggle" role="group" aria-label="What to show">
          <button aria-pressed={!listed} onClick={() => onListed(false)}>
            Strip map
          </button>
          <button aria-pressed={listed} onClick={() => onListed(true)}>
            Parts list
          </button>
        </div>
        {!listed && view && wrong.length === 0 && (
          <span className="proof">
            <Glyph standing="proven" size={16} /> Proven
          </span>
        )}
        {board.running && step && step.done < 1 && (
          <Underway words="Looking for fewer wires" stop={board.stop} />
        )}
        <span className="grow" />
        {!listed && (
          <span className="key" aria-hidden>
            <svg width={30} height={8}>
              <path d="M0 4h30" stroke="var(--ink2)" strokeWidth={1.6} strokeDasharray="5 4" />
            </svg>
            still to come
          </span>
        )}
        {!listed && bench && <BoardsOwned boards={bench.boards} onOwned={board.owned} />}
        {board.undos > 1 && (
          <button className="link" onClick={() => void board.undo()}>
            Undo move
          </button>
        )}
        {board.held && (
          <button className="link" onClick={() => void board.drop()}>
            Plan anew
          </button>
        )}
        {listed && (
          <a className="link" href={`/api/designs/${opened.id}/export/parts`}>
            Parts as CSV
          </a>
        )}
        <button className="link" onClick={() => void board.printed()}>
          Print
        </button>
      </div>
      {part && (
        <p className="picked-bar">
          <b>{part.ref}</b> {pinned ? "stays where you put it." : "Drag it, or move it with the arrows."}{" "}
          <button className="link" onClick={() => void board.move({ part: part.part, turned: true })}>
            Turn <kbd>T</kbd>
          </button>
          {pinned && (
            <button className="link" onClick={() => void board.move({ part: part.part, pinned: false })}>
              Let it move
            </button>
          )}
          <button className="link" onClick={() => onPick(null)}>
            Done <kbd>Esc</kbd>
          </button>
        </p>
      )}
      {step?.problems?.map((p) => (
        <p key={p.message} className="board-wrong" role="alert">
          <Glyph standing="fails" size={16} /> {p.message}
        </p>
      ))}
      {wrong.length > 0 && (
        <div className="board-wrong" role="alert">
          <Glyph standing="fails" size={16} />
          <ul>
            {wrong.slice(0, 4).map((f) => (
              <li key={f.text}>{f.text}</li>
            ))}
            {wrong.length > 4 && <li>And {wrong.length - 4} more.</li>}
          </ul>
          <button className="secondary" onClick={board.finish}>
            Finish around it
          </button>
        </div>
      )}
    </>
  );
}
