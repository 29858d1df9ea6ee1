// A mistake noticed at a step: what it does to the circuit, and whether something may be harmed.
import { useQuery } from "@tanstack/react-query";
import { about, call, client, plain, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { useWorkspace } from "../workspace/useDesign";

const SAID: Record<string, string> = {
  fails: "may harm something",
  tight: "does not work so",
  fits: "nothing comes of it",
};

export function Mistakes({ view, step }: { view: S["BoardView"]; step: S["Step"] }) {
  const { opened } = useWorkspace();
  const key = step.wire || step.key || "";
  const found = useQuery({
    queryKey: ["mistakes", opened.id, opened.stamp, key, JSON.stringify(view.plan)],
    enabled: key !== "",
    queryFn: () =>
      call(
        client.POST("/api/board/mistakes", {
          body: {
            ...about(opened.document),
            plan: plain(view.plan),
            key,
          },
        }),
      ),
  });
  if (key === "") return <p>Nothing is put on the board at this step.</p>;
  if (found.isPending) return <p role="status">Working out what would come of it …</p>;
  if (found.isError) return <p role="alert">It could not be worked out: {found.error.message}</p>;
  return (
    <ul className="mistakes">
      {found.data.rows.map((m) => (
        <li key={m.title}>
          <details>
            <summary>
              <Glyph standing={m.standing} size={14} /> <span>{m.title}</span>
              <small>{SAID[m.standing]}</small>
            </summary>
            {m.harms.map((h) => (
              <p key={h} className="fails">
                {h}
              </p>
            ))}
            {m.does.map((d) => (
              <p key={d}>{d}</p>
            ))}
          </details>
        </li>
      ))}
    </ul>
  );
}
