import { useState } from "react";
import { sendForm, useWork } from "../../../api/queries";
import { Button, Choice, Disclosure, Row } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { useFileChooser } from "../../../ui/useFileChooser";
import { tr } from "../../../words/words";
import type { Finish } from "../kinds";

interface LaidProps {
  project: string;
  studio: string;
  part: { id: string; name: string };
  finish: Finish;
  onChange: (fields: Record<string, unknown>) => unknown;
}

type Use = "colour" | "bump" | "roughness";

/** Pictures laid on the surface as colour, bump or roughness, sized in mm. */
export function PicturesLaid({ project, studio, part, finish, onChange }: LaidProps) {
  const [use, setUse] = useState<Use>("colour");
  const work = useWork(studio);
  const chooser = useFileChooser(tr("Picture file"), "image/png,image/jpeg,image/tiff,image/webp", (file) =>
    work(async () => {
      const form = new FormData();
      form.append("file", file);
      for (const [name, value] of Object.entries({ part: part.id, name: part.name, use })) form.append(name, value);
      await sendForm(studio, `/api/projects/${project}/studios/${studio}/pictures`, form);
    }),
  );
  const laid = finish.pictures ?? [];
  return (
    <Disclosure title={laid.length ? tr`Pictures on it: ${laid.length}` : tr("Pictures on it")}>
      {laid.map((one, index) => (
        <section key={one.use ?? "colour"} className="space-y-1.5">
          <Row label={tr(one.use ?? "colour")}>
            <span className="truncate">{one.name}</span>
            <Button
              weight="quiet"
              onClick={() => onChange({ pictures: laid.filter((other) => other.use !== one.use) })}
            >
              {tr("Take it off")}
            </Button>
          </Row>
          <NumberField
            label={tr("Width")}
            unit="mm"
            digits={1}
            min={0.5}
            max={5000}
            value={one.width ?? 40}
            onChange={(width) => onChange({ [`pictures.${index}.width`]: width })}
          />
          {one.use === "bump" && (
            <NumberField
              label={tr("Deep")}
              unit="mm"
              digits={2}
              step={0.02}
              min={0}
              max={5}
              value={one.depth ?? 0.1}
              onChange={(depth) => onChange({ [`pictures.${index}.depth`]: depth })}
            />
          )}
        </section>
      ))}
      <Row label={tr("As")}>
        <Choice
          label={tr("A picture is laid on as")}
          options={["colour", "bump", "roughness"]}
          value={use}
          onChange={(next) => setUse(next as Use)}
        />
      </Row>
      <Button weight="quiet" onClick={chooser.open}>
        {tr("Lay a picture on it")}
      </Button>
      {chooser.field}
      {laid.length > 0 && (
        <div className="grid grid-cols-2 gap-4">
          {([0, 1] as const).map((axis) => (
            <NumberField
              key={axis}
              label={axis === 0 ? tr("Moved across") : tr("Moved up")}
              unit="mm"
              digits={1}
              value={finish.lay?.move?.[axis] ?? 0}
              onChange={(value) => {
                const move: [number, number] = [...(finish.lay?.move ?? [0, 0])];
                move[axis] = value;
                return onChange({ "lay.move": move });
              }}
            />
          ))}
        </div>
      )}
    </Disclosure>
  );
}
