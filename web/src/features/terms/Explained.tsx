// A text whose terms can be asked for: underlined in dots until they have been read once.
import Popover from "@mui/material/Popover";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { call, client, type S } from "../../api/client";
import { Cell, useCell } from "../../drawing/cell";
import { split } from "./split";

const KEPT = "terms-read";
const read = new Cell<readonly string[]>(JSON.parse(localStorage.getItem(KEPT) ?? "[]") as string[]);

function remember(term: S["Term"]) {
  read.set([...new Set([...read.get(), term.forms[0]!])]);
  localStorage.setItem(KEPT, JSON.stringify(read.get()));
}

export function Explained({ text }: { text: string }) {
  const terms = useQuery({
    queryKey: ["terms"],
    queryFn: () => call(client.GET("/api/terms")),
    staleTime: Infinity,
  });
  return split(text, terms.data ?? []).map((piece, k) =>
    piece.term ? <Asked key={k} text={piece.text} term={piece.term} /> : piece.text,
  );
}

function Asked({ text, term }: { text: string; term: S["Term"] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const known = useCell(read).includes(term.forms[0]!);
  if (known && !anchor) return text;
  return (
    <>
      <button className="term" aria-haspopup="dialog" onClick={(e) => setAnchor(e.currentTarget)}>
        {text}
      </button>
      <Popover
        open={!!anchor}
        anchorEl={anchor}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
        onClose={() => {
          setAnchor(null);
          remember(term);
        }}
        aria-label={term.forms[0]}
      >
        <p className="term-text">{term.text}</p>
      </Popover>
    </>
  );
}
