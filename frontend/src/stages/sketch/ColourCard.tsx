import { channels, luminosity } from "../../paper/tint";
import { Card, ColourField } from "../../ui/controls";
import { OneStop } from "../../ui/OneStop";
import { tr } from "../../words/words";
import { useSketch } from "./store";

/** Tone numbers of the grey scale: 0 is white, 8 is black. */
const DARKEST = 8;
const TONES = Array.from({ length: DARKEST + 1 }, (_, tone) => tone);

/** The colour drawn with: the page's own colours, greys by their tone number, any other. */
export function ColourCard({ colours }: { colours: string[] }) {
  const { colour, set } = useSketch();
  return (
    <Card title={tr("Colour")} aside={toneOf(colour)}>
      <OneStop className="flex flex-wrap gap-[2px]" role="group" aria-label={tr("Greys by tone number")}>
        {TONES.map((tone) => (
          <Swatch key={tone} colour={greyOf(tone)} name={tr`Grey ${tone}`} chosen={colour} onChoose={set} />
        ))}
      </OneStop>
      {colours.length > 0 && (
        <OneStop className="flex flex-wrap gap-1" role="group" aria-label={tr("Colours of this page")}>
          {colours.map((used) => (
            <Swatch key={used} colour={used} name={tr`Colour ${used}`} chosen={colour} onChoose={set} />
          ))}
        </OneStop>
      )}
      <ColourField label={tr("Other")} value={colour} onChange={(value) => set({ colour: value })} />
    </Card>
  );
}

function Swatch(props: {
  colour: string;
  name: string;
  chosen: string;
  onChoose: (sketch: { colour: string }) => void;
}) {
  const on = props.colour.toLowerCase() === props.chosen.toLowerCase();
  return (
    <button
      type="button"
      aria-label={props.name}
      aria-pressed={on}
      title={props.name}
      onClick={() => props.onChoose({ colour: props.colour })}
      className={`h-[24px] w-[24px] border ${on ? "border-act outline outline-2 outline-act" : "border-vein"}`}
      data-pigment
      style={{ background: props.colour }}
    />
  );
}

/** Even steps of sRGB from white to black. */
export function greyOf(tone: number): string {
  const level = Math.round(255 * (1 - tone / DARKEST))
    .toString(16)
    .padStart(2, "0");
  return `#${level}${level}${level}`;
}

/** How dark a colour is on the grey scale. */
function toneOf(colour: string): string {
  return tr`tone ${(DARKEST * (1 - luminosity(channels(colour)))).toFixed(1)}`;
}
