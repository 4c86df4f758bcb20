import { useState } from "react";
import { Vector3 } from "three";
import { answer, api, type Shapes } from "../../api/client";
import { type Edit, useWork } from "../../api/queries";
import { useBench } from "../../bench/store";
import { AxisFields, type Triple } from "../../ui/AxisFields";
import { Button, Card, Choice, Disclosure, Row, TextField } from "../../ui/controls";
import { NumberField } from "../../ui/numbers/NumberField";
import { isShaped, type PartMesh } from "../../view3d/partMesh";
import { tr } from "../../words/words";
import { useDrawOn } from "./built/drawOn";
import type { HandleSeat, StepValues } from "./dragging";
import { isWorld } from "./dragging";
import { rows, type SeatTo, seatTurned, useSeat } from "./seat";
import { type HandleKind, type KeptSeat, useFormStage } from "./store";

interface PickProps {
  project: string;
  document: string;
  form: Shapes["Form"];
  active: Shapes["Part"];
  mesh: PartMesh;
  edit: Edit;
  place: (values: StepValues) => Promise<boolean>;
  crease: (numbers: object) => void;
  seatAt: (to: SeatTo) => void;
}

/** What is picked: its numbers, the handle's seat, how softly it moves, and picks kept under names. */
export function PickCard(props: PickProps) {
  const { kind, items, handle, reach, oneSide, set } = useFormStage();
  const seat = useSeat(props.mesh);
  const drawOn = useDrawOn(props.project, props.document);
  if (!isShaped(props.mesh)) {
    return (
      <Card title={tr("Pick")} aside={tr("still body")}>
        <p className="text-quiet">
          {tr("A still body is shown, measured and photographed. Stand it elsewhere as a whole.")}
        </p>
      </Card>
    );
  }
  if (!items.length || !seat) {
    return (
      <Card title={tr("Pick")} aside={tr(kind)}>
        <p className="text-quiet">
          {tr("Click")} {tr(kind)}{" "}
          {tr("on the cage or the skin; Shift adds, Shift-drag beside the form gathers in a box or a loop.")}
        </p>
        <KeptPicks {...props} />
      </Card>
    );
  }
  const noun = items.length === 1 ? { points: tr("point"), edges: tr("edge"), faces: tr("face") }[kind] : tr(kind);
  return (
    <Card title={`${items.length} ${noun}`} aside={tr("handle")}>
      <Choice<HandleKind>
        label={tr("Handle")}
        options={["move", "turn", "size", "push"]}
        value={handle}
        onChange={(value) => set({ handle: value })}
      />
      <HandleNumbers key={handle} how={handle} seat={seat} place={props.place} />
      {handle === "size" && (
        <Choice
          label={tr("Size from")}
          options={["from the seat", "from the far side"] as const}
          value={oneSide ? "from the far side" : "from the seat"}
          onChange={(value) => set({ oneSide: value === "from the far side" })}
        />
      )}
      <NumberField
        label={tr("Soft over")}
        value={reach}
        digits={1}
        min={0}
        max={5000}
        unit="mm"
        onChange={(value) => set({ reach: value })}
      />
      <SeatFields {...props} seat={seat} />
      {kind !== "faces" && <Creases {...props} />}
      <Button onClick={() => drawOn({ through: throughOf(seat) }, tr`what was picked of ${props.active.name}`)}>
        {tr("Draw a curve on its plane")}
      </Button>
      <KeptPicks {...props} />
    </Card>
  );
}

/** Three points of the plane square to the way out of what is picked, its across as level as can be. */
function throughOf({ place, out }: HandleSeat): [Triple, Triple, Triple] {
  const level = new Vector3(-out.y, out.x, 0);
  const across = level.lengthSq() > 1e-9 ? level.normalize() : new Vector3(out.z > 0 ? 1 : -1, 0, 0);
  const up = out.clone().cross(across);
  const points = [place, place.clone().add(across), place.clone().add(up)];
  return points.map((point) => point.toArray().map((value) => Number(value.toFixed(6)))) as [Triple, Triple, Triple];
}

/** Typed numbers for the handle: a place to go to, degrees to turn by, per cent to size to, mm to push. */
function HandleNumbers(props: { how: HandleKind; seat: HandleSeat; place: (values: StepValues) => Promise<boolean> }) {
  const { how, place } = props;
  const world = isWorld(props.seat.directions);
  const seat = props.seat.place.toArray() as [number, number, number];
  const [round, setRound] = useState(0);
  const done = () => setRound((n) => n + 1);
  if (how === "push") {
    return (
      <NumberField
        key={round}
        label={tr("Push by")}
        value={0}
        digits={2}
        unit="mm"
        onChange={async (value) => {
          await place({ how, values: [value, 0, 0], seat });
          done();
        }}
      />
    );
  }
  const rest: Triple = how === "move" ? (world ? seat : [0, 0, 0]) : how === "turn" ? [0, 0, 0] : [100, 100, 100];
  const words = { move: world ? "Middle" : "Move along", turn: tr("Turn about"), size: tr("Size along") }[how];
  const apply = async (axis: number, value: number) => {
    const values: [number, number, number] = how === "size" ? [1, 1, 1] : [0, 0, 0];
    const directions = rows(props.seat.directions);
    if (how === "size") values[axis] = value / 100;
    else {
      const by = how === "move" && world ? value - seat[axis]! : value;
      for (let k = 0; k < 3; k++) values[k] = directions[axis]![k]! * by;
    }
    await place({ how, values, seat, ...(how === "size" && !world ? { directions } : {}) });
    done();
  };
  return (
    <AxisFields
      key={round}
      label={words}
      values={rest}
      unit={how === "move" ? "mm" : how === "turn" ? "°" : "%"}
      digits={how === "size" ? 0 : 1}
      onChange={(values, axis) => apply(axis, values[axis]!)}
    />
  );
}

const SEATS: [SeatTo, string][] = [
  ["pick", "follow the pick"],
  ["world", "stay here"],
  ["normal", "square to it"],
  ["edge", "along its edge"],
  ["view", "like the view"],
];

/** Where the handle sits and which way its arms point. */
function SeatFields(props: PickProps & { seat: HandleSeat }) {
  const { seat: kept, set } = useFormStage();
  const [name, setName] = useState("");
  const [degrees, setDegrees] = useState<[number, number, number]>([0, 0, 0]);
  const place = (kept?.place ?? props.seat.place.toArray()) as [number, number, number];
  const seats = props.form.seats ?? [];
  return (
    <Disclosure title={tr`Handle’s seat${kept ? tr(": set") : ""}`}>
      <div className="flex flex-wrap gap-x-3 gap-y-1">
        {SEATS.map(([to, words]) => (
          <Button key={to} weight="quiet" pressed={to === "pick" && !kept} onClick={() => props.seatAt(to)}>
            {words}
          </Button>
        ))}
      </div>
      <p>{tr("It sits at")}</p>
      <AxisFields
        label={tr("Seat")}
        unit="mm"
        values={place}
        digits={1}
        onChange={(moved) => {
          set({ seat: { place: moved, directions: kept?.directions ?? rows(props.seat.directions) } });
        }}
      />
      <p>{tr("Its arms turned about")}</p>
      <AxisFields
        label={tr("Seat turned about")}
        unit="°"
        values={degrees}
        onChange={(turned) => {
          setDegrees(turned);
          set({ seat: seatTurned(place, turned) });
        }}
      />
      {seats.map((seat) => (
        <div key={seat.name} className="flex items-center gap-2">
          <Button
            weight="quiet"
            onClick={() => set({ seat: { place: seat.place, directions: seat.directions as KeptSeat["directions"] } })}
          >
            {seat.name}
          </Button>
          <Button
            weight="quiet"
            label={tr`Forget the seat ${seat.name}`}
            onClick={() => props.edit({ kind: "forget_seat", name: seat.name })}
          >
            {tr("forget")}
          </Button>
        </div>
      ))}
      {kept && (
        <div className="flex items-center gap-2">
          <TextField label={tr("Name of the seat")} hideLabel value={name} live onChange={setName} />
          <Button
            label={tr("Keep the seat")}
            onClick={() =>
              name.trim() &&
              props.edit({
                kind: "keep_seat",
                seat: {
                  name: name.trim(),
                  place: kept.place,
                  directions: kept.directions as [
                    [number, number, number],
                    [number, number, number],
                    [number, number, number],
                  ],
                },
              })
            }
          >
            {tr("Keep the seat")}
          </Button>
        </div>
      )}
    </Disclosure>
  );
}

/** Picks kept under names, carried through later steps. */
function KeptPicks(props: PickProps) {
  const { kind, items, set } = useFormStage();
  const [name, setName] = useState("");
  const notify = useBench((bench) => bench.notify);
  const work = useWork();
  const { active } = props;
  const pick = (which: string) =>
    work(async () => {
      const found = await answer(
        api.GET("/api/projects/{project}/forms/{document}/parts/{part}/picks/{pick}", {
          params: { path: { project: props.project, document: props.document, part: active.id, pick: which } },
        }),
      );
      set({ kind: found.kind, items: found.items });
      if (found.gone) notify(tr`${found.gone} of them are gone: later steps took them away.`);
    });
  return (
    <>
      {(active.picks ?? []).map((kept) => (
        <div key={kept.name} className="flex items-center justify-between gap-2">
          <Button weight="quiet" onClick={() => pick(kept.name)}>
            {tr("Pick")} {kept.name}
          </Button>
          <Button
            weight="quiet"
            label={tr`Forget the pick ${kept.name}`}
            onClick={() => props.edit({ kind: "forget_pick", part: active.id, name: kept.name })}
          >
            {tr("forget")}
          </Button>
        </div>
      ))}
      {items.length > 0 && (
        <div className="flex items-center gap-2">
          <TextField label={tr("Name of the pick")} hideLabel value={name} live onChange={setName} />
          <Button
            label={tr("Keep the pick")}
            onClick={async () => {
              if (!name.trim()) return notify(tr("Give the pick a name first."));
              const said = name.trim();
              if (
                await props.edit({ kind: "keep_pick", part: active.id, name: said, of: kind, items: items as [number] })
              )
                setName("");
            }}
          >
            {tr("Keep the pick")}
          </Button>
        </div>
      )}
    </>
  );
}

function Creases({ mesh, crease }: PickProps) {
  const { items, kind } = useFormStage();
  const known = new Map<string, number>();
  if (kind === "edges") {
    mesh.creaseSharpness.forEach((sharpness, at) => {
      known.set(`${mesh.creaseEdges[2 * at]!},${mesh.creaseEdges[2 * at + 1]!}`, sharpness);
    });
  } else {
    mesh.cornerSharpness.forEach((sharpness, at) => {
      known.set(`${mesh.cornerPoints[at]!}`, sharpness);
    });
  }
  const nameOf = (item: number) =>
    kind === "edges" ? `${mesh.edges[2 * item]!},${mesh.edges[2 * item + 1]!}` : `${item}`;
  const values = items.map((item) => known.get(nameOf(item)) ?? 0);
  const [first = 0] = values;
  const same = values.every((value) => value === first);
  const sharp = same && first >= 10;
  return (
    <>
      {sharp ? (
        <Row label={tr("Crease")}>{tr("fully sharp")}</Row>
      ) : (
        <NumberField
          label={same ? tr("Crease") : tr("Crease (mixed)")}
          value={Math.min(1, first / 3)}
          min={0}
          max={1}
          step={0.05}
          digits={2}
          onChange={(value) => crease({ crease: value })}
        />
      )}
      <Button weight="quiet" onClick={() => crease(sharp ? { crease: 0 } : { crease: 1, sharp: true })}>
        {sharp ? tr("Make soft") : tr("Make fully sharp")}
      </Button>
    </>
  );
}
