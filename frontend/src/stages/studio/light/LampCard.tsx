import { newId, useWork } from "../../../api/queries";
import { DoingWords, menuOf } from "../../../bench/Doings";
import { Button, Card, Choice, Disclosure, Row, Switch, TextField } from "../../../ui/controls";
import { NumberField } from "../../../ui/numbers/NumberField";
import { useReading } from "../../../ui/numbers/reading";
import { OneStop } from "../../../ui/OneStop";
import { capitalised } from "../../../ui/words";
import { told, tr } from "../../../words/words";
import type { StudioProps } from "../context";
import { Fields, fieldsOf, useChoices } from "../Fields";
import { calledOf, type Lamp } from "../kinds";
import { movedLamp } from "../moves";
import { useSetting, useStudioHand, useStudioStage } from "../store";
import { useLampDoings } from "./lampDoings";

/** The chosen lamp: what it is, its numbers, what stands before it, and what can be done with it. */
export function LampCard(props: StudioProps) {
  const { project, studio, formId, stored, edit, facts, onDraft, onLamp } = props;
  const place = { project, form: formId };
  const doingsOf = useLampDoings(place, studio, stored, edit);
  const choices = useChoices(project);
  const setting = useSetting(stored);
  const { lamp: chosen, alone, set } = useStudioStage();
  const lamps = setting.lamps ?? [];
  const lamp = lamps.find((candidate) => candidate.id === chosen) ?? lamps[0];
  if (!lamp) {
    return (
      <Card title={tr("Lamps")} aside={tr("none")}>
        <Button onClick={() => edit({ kind: "start_light", start: "three-point" })}>{tr("Set up three lamps")}</Button>
      </Card>
    );
  }
  const change = (fields: Record<string, unknown>) => edit({ amend: { kind: "lamp", id: lamp.id, fields } });
  const draft = (next: Lamp) => onDraft({ lamps: lamps.map((other) => (other.id === next.id ? next : other)) });
  const before = "before" in lamp ? (lamp.before ?? null) : null;
  const lux = facts?.lamps[lamp.id]?.lux;
  const groups = [...new Set(lamps.map((other) => other.group).filter(Boolean))];
  return (
    <Card
      title={capitalised(tr(calledOf(lamp)))}
      aside={
        <OneStop className="flex flex-wrap justify-end gap-x-3">
          {lamps.map((other) => (
            <button
              key={other.id}
              type="button"
              aria-pressed={other.id === lamp.id}
              onClick={() => set({ lamp: other.id })}
              {...menuOf(doingsOf(other), () => set({ lamp: other.id }))}
              className={other.id === lamp.id ? "text-act" : other.on === false ? "line-through" : "hover:text-ink"}
            >
              {tr(calledOf(other))}
            </button>
          ))}
        </OneStop>
      }
    >
      <Switch
        label={lamp.kind === "card" ? tr("Card there") : tr("Lamp on")}
        word={lamp.kind === "card" ? tr("There") : tr("On")}
        on={lamp.on ?? true}
        onChange={() => change({ on: lamp.on === false })}
      />
      {lamp.kind !== "card" && (
        <Switch
          label={tr("This lamp alone")}
          word={tr("Alone")}
          on={alone === lamp.id}
          onChange={(only) => set({ alone: only ? lamp.id : null, take: null })}
        />
      )}
      <Fields
        kind={lamp.kind}
        fields={fieldsOf(choices?.lamp_kinds, lamp.kind, ["held", "turn"]).filter(({ name }) => name !== "role")}
        thing={lamp}
        onSlide={(fields) => draft({ ...lamp, ...fields } as Lamp)}
        onChange={change}
      />
      {lux !== undefined && (
        <NumberField
          label={tr("On the product")}
          unit={tr("lx")}
          value={lux}
          min={0.01}
          max={1e7}
          step={50}
          onChange={async (value) =>
            onLamp((await movedLamp(place, stored, lamp.id, { kind: "lux", lux: value })).lamp)
          }
        />
      )}
      <HighlightLength {...props} lamp={lamp} />
      <Disclosure title={tr("What it is, what holds it")}>
        <TextField label={tr("Name")} value={lamp.name || tr(calledOf(lamp))} onChange={(name) => change({ name })} />
        <Choice
          label={tr("Kind")}
          options={choices?.lamp_kinds.map((one) => one.kind) ?? [lamp.kind]}
          value={lamp.kind}
          onChange={(kind) => change({ kind })}
        />
        {"role" in lamp && (
          <Row label={tr("Role")}>
            <Choice
              label={tr("Role")}
              options={["key", "fill", "back", "other"]}
              value={lamp.role ?? "other"}
              onChange={(role) => change({ role })}
            />
          </Row>
        )}
        <Row label={tr("Held to")}>
          <Choice
            label={tr("Held to")}
            options={["room", "product", "camera"]}
            value={lamp.held ?? "room"}
            onChange={(held) => change({ held })}
          />
        </Row>
        <NumberField
          label={tr("Turned")}
          unit="°"
          value={lamp.turn ?? 0}
          min={-180}
          max={180}
          onSlide={(turn) => draft({ ...lamp, turn })}
          onChange={(turn) => change({ turn })}
        />
        <TextField label={tr("Group")} value={lamp.group ?? ""} onChange={(group) => change({ group })} />
      </Disclosure>
      {groups.map((group) => (
        <GroupLine key={group} group={group!} lamps={lamps} edit={edit} />
      ))}
      {"before" in lamp && (
        <Disclosure title={before ? tr`Before it: ${tr(before.kind)}` : tr("Before it: nothing")}>
          <Choice
            label={tr("Before it")}
            options={["nothing", ...(choices?.screen_kinds.map((one) => one.kind) ?? [])]}
            value={before?.kind ?? "nothing"}
            onChange={(kind) => change({ before: kind === "nothing" ? null : kind === "blades" ? BLADES : { kind } })}
          />
          {before && (
            <Fields
              kind={before.kind}
              fields={fieldsOf(choices?.screen_kinds, before.kind)}
              thing={before}
              path="before."
              onSlide={(fields) => draft({ ...lamp, before: { ...before, ...fields } } as Lamp)}
              onChange={change}
            />
          )}
        </Disclosure>
      )}
      <div className="-mx-2.5 flex flex-wrap">
        <DoingWords doings={doingsOf(lamp).slice(2)} />
      </div>
    </Card>
  );
}

/** Flags that are seen to close in. */
const BLADES = { kind: "blades", left: 0.25, right: 0.25 };

function GroupLine({ group, lamps, edit }: { group: string; lamps: Lamp[]; edit: StudioProps["edit"] }) {
  const own = lamps.filter((lamp) => lamp.group === group);
  const on = own.some((lamp) => lamp.on !== false);
  return (
    <Switch
      label={tr`Group ${group}`}
      on={on}
      onChange={(next) =>
        edit({
          kind: "set_lamps",
          lamps: own.map((lamp) => ({ ...lamp, on: next })),
          doing: next ? "Switched on" : "Switched off",
        })
      }
    />
  );
}

/** How long the lamp's mirror image is on the surface, once it has been put somewhere. */
function HighlightLength(props: StudioProps & { lamp: Lamp }) {
  const length = useStudioHand((hand) => hand.length);
  const touched = useStudioHand((hand) => hand.touched);
  const work = useWork();
  if (!touched || touched.lamp !== props.lamp.id) return null;
  const { project, formId, stored, size, lamp, onLamp } = props;
  const make = async (wanted: number) => {
    const move = { kind: "highlight" as const, at: touched.at, size, length: wanted };
    const moved = await movedLamp({ project, form: formId }, stored, lamp.id, move);
    useStudioHand.setState({ length: moved.length });
    return onLamp(moved.lamp);
  };
  if (length === null) {
    return (
      <Row label={tr("Its highlight")}>
        <Button weight="quiet" onClick={() => work(() => make(USUAL_LENGTH))}>
          {tr("runs off the product: make it 10 mm")}
        </Button>
      </Row>
    );
  }
  return (
    <NumberField
      label={tr("Its highlight")}
      unit="mm"
      digits={1}
      value={length}
      min={0.1}
      max={2000}
      onChange={(wanted) => make(wanted)}
    />
  );
}

/** Length in mm that a highlight is offered where it runs off the product. */
const USUAL_LENGTH = 10;

/** What the light means, beside the plan, also while something is dragged. */
export function Meaning({ facts, lamp }: { facts: StudioProps["facts"]; lamp: Lamp | undefined }) {
  const read = useReading();
  const own = lamp && facts?.lamps[lamp.id];
  return (
    <>
      {own?.softness && <Row label={tr("Shadow")}>{read.sentence(own.softness)}</Row>}
      {own?.shadow_sides != null && <Row label={tr("Edge at its sides")}>{read.length(own.shadow_sides)}</Row>}
      {own?.shadow_end != null && <Row label={tr("Edge at its end")}>{read.length(own.shadow_end)}</Row>}
      {own?.stops != null && (
        <Row label={tr("Against the key")}>
          {read.number(own.stops, 1)} {tr("stops")}
        </Row>
      )}
      {own && <Row label={tr("Lights it")}>{told(own.side)}</Row>}
      {own?.rim != null && (
        <Row label={tr("Its rim")}>
          {own.stands_off ? tr`stands off by ${read.number(own.rim, 1)} stops` : tr("melts into the backdrop")}
        </Row>
      )}
      {facts?.key_to_fill != null && (
        <Row label={tr("Key to fill")}>
          {read.number(facts.key_to_fill, 1)} {tr("stops")}
        </Row>
      )}
    </>
  );
}

/** A new lamp or card of a kind, to the left of the product. */
export function freshLamp(kind: Lamp["kind"]): Lamp {
  const id = newId().slice(0, 8);
  return {
    kind,
    id,
    azimuth: -30,
    height: 35,
    ...(kind === "card" ? { azimuth: 70, height: 6, distance: 320 } : {}),
  } as Lamp;
}
