// Changed in two places: what both changed is asked, value by value, each with what comes of it.
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { call, client, type Change, type S } from "../../api/client";
import { Glyph } from "../../drawing/Badge";
import { useWorkspace, type Clash } from "./useDesign";

export function ClashDialog() {
  const { clash } = useWorkspace();
  return clash && <Asked clash={clash} key={clash.refused.theirs.stamp} />;
}

const wished = (changes: readonly Change[]) => changes.map(({ path, value }) => ({ path, value }));

/** What comes of each choice, in their design with what of ours meets no other change. */
function useOutcomes({ refused, changes, paths }: Clash) {
  const asked = changes.filter((c) => paths?.includes(c.path));
  const found = useQuery({
    queryKey: ["outcomes", refused.theirs.id, refused.theirs.stamp, asked],
    queryFn: () =>
      call(
        client.POST("/api/outcomes", {
          body: {
            document: refused.theirs.document as unknown as Record<string, unknown>,
            changes: wished(changes.filter((c) => !paths?.includes(c.path))),
            choices: wished(asked),
          },
        }),
      ),
    enabled: asked.length > 0,
  });
  return new Map(asked.map((c, k) => [c.path, found.data?.[k]]));
}

function Asked({ clash }: { clash: Clash }) {
  const { resolve, answer } = useWorkspace();
  const titles = new Map(answer.evaluation.windows.map((w) => [w.path, `${w.ref}, ${w.title}`]));
  const { refused, paths } = clash;
  const [mine, setMine] = useState<readonly string[]>(paths ?? []);
  const outcomes = useOutcomes(clash);
  const both = refused.differences.filter((d) => !paths || paths.includes(d.path));
  const apart = paths ? clash.changes.length - paths.length : 0;
  const choose = (path: string, own: boolean) =>
    setMine(own ? [...mine, path] : mine.filter((p) => p !== path));
  const words = apart === 1 ? "1 other value of yours meets" : `${apart} other values of yours meet`;
  return (
    <Dialog open maxWidth="sm" fullWidth aria-labelledby="clash-title">
      <DialogTitle id="clash-title">Changed in two places</DialogTitle>
      <DialogContent>
        <p>
          <b>Somebody else saved first,</b> as revision {refused.theirs.revision}.{" "}
          {both.length === 1 ? "One value clashes." : `${both.length} values clash.`}{" "}
          {apart > 0 && `${words} no other change and will be kept.`}
        </p>
        <div className="clash">
          <div className="clash-head" aria-hidden>
            <span />
            <b>Here, not saved</b>
            <b>There, saved</b>
          </div>
          {both.map((d) => (
            <div
              className="clash-row"
              key={d.path}
              role="radiogroup"
              aria-label={titles.get(d.path) ?? d.title}
            >
              <span>{titles.get(d.path) ?? d.title}</span>
              {[true, false].map((own) => (
                <label key={String(own)} className={mine.includes(d.path) === own ? "chosen" : ""}>
                  <input
                    type="radio"
                    disabled={!paths}
                    checked={!paths ? own : mine.includes(d.path) === own}
                    onChange={() => choose(d.path, own)}
                  />
                  <span className="value">{own ? d.mine : d.theirs}</span>
                </label>
              ))}
              <Outcomes all={outcomes.get(d.path)} />
            </div>
          ))}
        </div>
        {both.length === 0 && <p>Both came to the same values.</p>}
      </DialogContent>
      <DialogActions>
        <Button onClick={() => resolve("theirs")}>Take theirs</Button>
        <Button onClick={() => resolve("copy")}>Keep mine as a copy</Button>
        <Button variant="contained" onClick={() => resolve("mine", mine)}>
          {paths ? "Merge as chosen" : "Keep mine"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

function Outcomes({ all }: { all: readonly S["Outcome"][] | undefined }) {
  if (!all) return null;
  if (all.length === 0) return <p className="clash-outcome">No check says anything else with either.</p>;
  return (
    <>
      {all.map((o) => (
        <p className="clash-outcome" key={o.title}>
          <span>{o.title}</span>
          <span>
            <Glyph standing={o.mine_standing} /> {o.mine}
          </span>
          <span>
            <Glyph standing={o.theirs_standing} /> {o.theirs}
          </span>
        </p>
      ))}
    </>
  );
}
