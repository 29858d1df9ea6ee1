// Plain-text formulas of the core: V_{gate} gets a subscript, ^2 a superscript.
export function Formula({ text }: { text: string }) {
  const parts = text.split(/(_\{[^}]*\}|\^\d)/);
  return (
    <span className="formula">
      {parts.map((p, k) =>
        p.startsWith("_{") ? (
          <sub key={k}>{p.slice(2, -1)}</sub>
        ) : /^\^\d$/.test(p) ? (
          <sup key={k}>{p.slice(1)}</sup>
        ) : (
          p
        ),
      )}
    </span>
  );
}
