// Which solderless boards somebody owns: the planner takes the fewest that hold the circuit.
import { useState } from "react";
import { Popover } from "@mui/material";
import { call, client, type S } from "../../api/client";

type Board = S["Board"];
const MOST = 4;

export function BoardsOwned({ boards, onOwned }: { boards: readonly Board[]; onOwned: () => Promise<void> }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [rows, setRows] = useState<readonly Board[]>(boards);
  const set = (k: number, change: Partial<Board>) =>
    setRows(rows.map((r, n) => (n === k ? { ...r, ...change } : r)));
  const save = async () => {
    await call(client.PUT("/api/boards", { body: { boards: [...rows] } }));
    setAnchor(null);
    await onOwned();
  };
  return (
    <>
      <button
        className="link"
        onClick={(e) => {
          setRows(boards);
          setAnchor(e.currentTarget);
        }}
      >
        Boards: {boards.map((b) => b.positions).join(", ")}
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
      >
        <form
          className="boards-owned"
          aria-label="Boards you own"
          onSubmit={(e) => {
            e.preventDefault();
            void save();
          }}
        >
          <h3>Boards you own</h3>
          {rows.map((b, k) => (
            <p key={k}>
              <select
                aria-label={`Positions of board ${k + 1}`}
                value={b.positions}
                onChange={(e) => set(k, { positions: Number(e.target.value) as Board["positions"] })}
              >
                <option value={30}>30 positions</option>
                <option value={63}>63 positions</option>
              </select>
              <select
                aria-label={`Rails of board ${k + 1}`}
                value={b.rails}
                onChange={(e) => set(k, { rails: e.target.value as Board["rails"] })}
              >
                <option value="whole">whole rails</option>
                <option value="split">rails split in the middle</option>
              </select>
              <button
                type="button"
                className="link"
                disabled={rows.length === 1}
                onClick={() => setRows(rows.filter((_, n) => n !== k))}
              >
                Remove
              </button>
            </p>
          ))}
          <p>
            <button
              type="button"
              className="secondary"
              disabled={rows.length >= MOST}
              onClick={() => setRows([...rows, { positions: 30, rails: "whole" }])}
            >
              Add a board
            </button>
            <button className="primary">Keep</button>
          </p>
        </form>
      </Popover>
    </>
  );
}
