// The head of every page: where you are, the supply, undo, the drawer, Find, light and dark.
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import { cutMiddle } from "../../drawing/format";
import { usePreferences } from "../../theme/mode";

export function Logo() {
  return (
    <svg width={22} height={20} viewBox="-10 -9 20 18" aria-hidden>
      <path d="M-4.5 -7.8h9L9 0L4.5 7.8h-9L-9 0z" fill="var(--ink)" />
      <path d="M0 0L4.5 -7.8L9 0z" fill="var(--copper)" />
      <path d="M-9 0H9M-4.5 -7.8L4.5 7.8M4.5 -7.8L-4.5 7.8" stroke="var(--paper)" strokeWidth={1} />
    </svg>
  );
}

export type Item = { label: string; href?: string; onClick?: () => void };
type Props = {
  name?: string;
  supply?: string;
  supplyWord?: string;
  items?: Item[];
  undo?: { label: string; on: boolean; do: () => void };
  redo?: { label: string; on: boolean; do: () => void };
  onFind: () => void;
  count?: ReactNode;
};

export function Header({ name, supply, supplyWord = "Battery", items, undo, redo, onFind, count }: Props) {
  const { mode, toggleMode } = usePreferences();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <header className="top">
      <Link to="/" className="home">
        <Logo /> Hexlet
      </Link>
      <Link to="/" className="shed">
        Quillmoor shed
      </Link>
      {name ? (
        <>
          <span aria-hidden className="slash">
            /
          </span>
          <button
            className="design-name"
            aria-haspopup="menu"
            aria-expanded={!!anchor}
            title={name}
            onClick={(e) => setAnchor(e.currentTarget)}
          >
            {cutMiddle(name, 34)}{" "}
            <svg width={10} height={8} viewBox="0 0 10 8" aria-hidden>
              <path d="M1 2l4 4l4 -4" fill="none" stroke="currentColor" strokeWidth={1.8} />
            </svg>
          </button>
          <Menu anchorEl={anchor} open={!!anchor} onClose={() => setAnchor(null)}>
            {(items ?? []).map((i) =>
              i.href ? (
                <MenuItem key={i.label} component="a" href={i.href} onClick={() => setAnchor(null)}>
                  {i.label}
                </MenuItem>
              ) : (
                <MenuItem
                  key={i.label}
                  onClick={() => {
                    setAnchor(null);
                    i.onClick?.();
                  }}
                >
                  {i.label}
                </MenuItem>
              ),
            )}
          </Menu>
        </>
      ) : (
        <span className="count">{count}</span>
      )}
      <span className="grow" />
      {supply && (
        <span className="supply">
          <small>{supplyWord}</small> <b className="value">{supply}</b>
        </span>
      )}
      {undo && (
        <button className="tool" disabled={!undo.on} title={undo.label} onClick={undo.do}>
          <svg width={16} height={16} viewBox="0 0 16 16" aria-hidden>
            <path
              d="M6 3L2 7l4 4M2 7h8a4 4 0 0 1 0 7H7"
              fill="none"
              stroke="currentColor"
              strokeWidth={1.8}
            />
          </svg>
          <span>Undo</span>
        </button>
      )}
      {redo && (
        <button
          className="tool"
          disabled={!redo.on}
          aria-label="Redo"
          title={redo.label || "Redo"}
          onClick={redo.do}
        >
          <svg width={16} height={16} viewBox="0 0 16 16" aria-hidden>
            <path
              d="M10 3l4 4l-4 4M14 7H6a4 4 0 0 0 0 7h3"
              fill="none"
              stroke="currentColor"
              strokeWidth={1.8}
            />
          </svg>
        </button>
      )}
      <Link className="tool" to="/drawer">
        <svg width={16} height={16} viewBox="0 0 16 16" aria-hidden>
          <path
            d="M1.5 2.5h13v11h-13zM1.5 8h13M6 5.2h4M6 10.8h4"
            fill="none"
            stroke="currentColor"
            strokeWidth={1.6}
          />
        </svg>
        <span>Parts drawer</span>
      </Link>
      <button className="tool" onClick={onFind}>
        <svg width={16} height={16} viewBox="0 0 16 16" aria-hidden>
          <path
            d="M11 11l4 4M12 7A5 5 0 1 1 2 7A5 5 0 1 1 12 7z"
            fill="none"
            stroke="currentColor"
            strokeWidth={1.8}
          />
        </svg>
        <span>Find</span> <kbd>/</kbd>
      </button>
      <button
        className="tool"
        aria-label={mode === "light" ? "Dark" : "Light"}
        title={mode === "light" ? "Dark" : "Light"}
        onClick={toggleMode}
      >
        <svg width={18} height={18} viewBox="0 0 18 18" aria-hidden>
          <path d="M16 9A7 7 0 1 1 2 9A7 7 0 1 1 16 9z" fill="none" stroke="currentColor" strokeWidth={1.8} />
          <path d="M9 2a7 7 0 0 1 0 14z" fill="currentColor" />
        </svg>
      </button>
    </header>
  );
}
