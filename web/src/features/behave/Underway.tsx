// Long work that is under way: how far it is, and how to stop it.
export function Underway({ words, stop }: { words: string; stop: () => void }) {
  return (
    <p role="status">
      {words}{" "}
      <button className="link" onClick={stop}>
        Stop
      </button>
    </p>
  );
}
