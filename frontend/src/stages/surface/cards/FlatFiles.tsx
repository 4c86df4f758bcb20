import { useWork } from "../../../api/queries";
import { Button } from "../../../ui/controls";

const FORMATS = ["svg", "dxf"] as const;
type FlatFormat = (typeof FORMATS)[number];

/** The files that lines laid flat are saved as. */
export function FlatFiles(props: {
  label: (format: FlatFormat) => string;
  save: (format: FlatFormat) => Promise<void>;
}) {
  const work = useWork();
  return (
    <span className="flex gap-1.5">
      {FORMATS.map((format) => (
        <Button key={format} label={props.label(format)} onClick={() => void work(() => props.save(format))}>
          {format.toUpperCase()}
        </Button>
      ))}
    </span>
  );
}
