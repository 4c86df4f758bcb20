import { answer, api } from "../../../api/client";
import { at, newId, useWork } from "../../../api/queries";
import { copy } from "../../../bench/copying";
import { Doings, DoingWords, menuOf } from "../../../bench/Doings";
import { Button, Card } from "../../../ui/controls";
import { OneStop } from "../../../ui/OneStop";
import { save } from "../../../ui/save";
import { tr } from "../../../words/words";
import type { StudioProps } from "../context";
import { wearersOf } from "../kinds";
import { useStudioStage } from "../store";
import { FinishFields } from "./FinishFields";
import { PicturesLaid } from "./PicturesLaid";

/** The finish of a part or of some faces of one, and giving it to others. */
export function FinishCard({ project, studio, stored, parts, edit }: StudioProps) {
  const { wearer: chosen, tool, wearing, set } = useStudioStage();
  const zones = stored.zones ?? [];
  const wearers = wearersOf(parts, zones);
  const part = wearers.find((candidate) => candidate.id === chosen) ?? wearers[0];
  if (!part) return null;
  const zone = zones.find((one) => one.id === part.id);
  const finish = stored.finishes?.[part.id] ?? { material: "matte plastic", colour: "#C9C4BA" };
  const change = (fields: Record<string, unknown>) =>
    edit({ amend: { kind: "finish", part: part.id, name: part.name, fields } });
  const gone = Object.keys(stored.finishes ?? {}).some((id) => !wearers.some((other) => other.id === id));
  return (
    <Card title={tr("Finish")} aside={part.name}>
      <label className="flex items-center justify-between text-quiet">
        {tr("Part")}
        <select
          aria-label={tr("Part")}
          value={part.id}
          onChange={(event) => set({ wearer: event.target.value })}
          className="border border-vein bg-raised px-1 py-0.5 text-ink"
        >
          {wearers.map((other) => (
            <option key={other.id} value={other.id}>
              {other.name}
            </option>
          ))}
        </select>
      </label>
      {tool === "faces" && (
        <p className="text-quiet">
          {zone
            ? tr`${zone.faces.length} faces. Draw over more to add them; begin on one of them to take some out.`
            : tr("Draw over the faces that are to wear a finish of their own.")}
        </p>
      )}
      <FinishFields project={project} finish={finish} onChange={change} />
      <PicturesLaid project={project} studio={studio} part={part} finish={finish} onChange={change} />
      <Doings
        doings={[
          ...(tool === "faces"
            ? [{ name: tr("Enough faces"), run: () => set({ tool: "finish" }) }]
            : [
                {
                  name: zone ? tr("Change its faces") : tr("Some faces only"),
                  run: () => set({ tool: "faces", take: null }),
                },
              ]),
          ...(zone
            ? [
                {
                  name: tr("Back to the part’s finish"),
                  run: async () => {
                    if (await edit({ kind: "remove_zone", id: zone.id })) set({ wearer: zone.part });
                  },
                },
              ]
            : []),
          {
            name: wearing ? tr("Enough given") : tr("Give it to what I touch"),
            run: () =>
              set(
                wearing
                  ? { wearing: null, tool: "finish" }
                  : { wearing: { wearer: part.id, name: part.name }, tool: "wear", take: null },
              ),
          },
          {
            name: tr("Give it to all parts"),
            run: () => edit({ kind: "set_finishes", parts: wearers.map((other) => other.id), finish }),
          },
          {
            name: tr("Copy this finish"),
            run: () =>
              copy(project, studio, { what: "finish", items: [part.id], said: tr`the finish of ${part.name}` }),
          },
          ...(gone
            ? [
                {
                  name: tr("Clear what no part wears"),
                  run: () => edit({ kind: "clear_finishes", kept: parts.map((other) => other.id) }),
                },
              ]
            : []),
        ]}
      />
    </Card>
  );
}

/** Sets of finishes under names: put one on, keep the present one. */
export function ColourwaysCard({ project, studio, body, edit }: StudioProps) {
  const work = useWork();
  const ways = body.colourways ?? [];
  const keep = () => {
    const names = new Set(ways.map((way) => way.name));
    let number = ways.length + 1;
    while (names.has(tr`Colourway ${number}`)) number++;
    return edit({ kind: "keep_colourway", id: newId().slice(0, 8), name: tr`Colourway ${number}` });
  };
  return (
    <Card title={tr("Colourways")} aside={ways.length ? "" : tr("none yet")}>
      <OneStop>
        {ways.map((way) => {
          const doings = [
            { name: tr("Put on"), run: () => edit({ kind: "wear_colourway", id: way.id, name: way.name }) },
            {
              name: tr("Keep the present finishes as it"),
              run: () => edit({ kind: "keep_colourway", id: way.id, name: way.name }),
            },
            { name: tr("Remove"), run: () => edit({ kind: "remove_colourway", id: way.id }) },
          ];
          return (
            <div key={way.id} data-row {...menuOf(doings, () => undefined)} className="pb-1">
              <div className="flex items-center justify-between">
                <span>{way.name}</span>
                <span className="flex">
                  {Object.values(way.finishes ?? {}).map((finish, index) => (
                    <span key={index} className="h-3 w-4" style={{ background: finish.colour }} />
                  ))}
                </span>
              </div>
              <div className="-mx-2.5 flex flex-wrap">
                <DoingWords doings={doings} />
              </div>
            </div>
          );
        })}
      </OneStop>
      <Button onClick={keep}>{tr("Keep as a colourway")}</Button>
      {(body.shots ?? []).length > 0 && (
        <div className="-mx-2.5 flex flex-wrap">
          <Button
            weight="quiet"
            onClick={() =>
              work(() =>
                answer(api.POST("/api/projects/{project}/studios/{document}/contact-sheet", at(project, studio))),
              )
            }
          >
            {tr("Take a contact sheet")}
          </Button>
          <Button
            weight="quiet"
            onClick={() => save(`/api/projects/${project}/studios/${studio}/contact-sheet.png`, "contact sheet.png")}
          >
            {tr("Save the contact sheet")}
          </Button>
        </div>
      )}
    </Card>
  );
}
