import type { Shapes } from "../../api/client";
import { FormMissing } from "../../bench/Empty";
import { tr } from "../../words/words";
import { type PaneProps, ProbePane } from "./ProbePane";

/** One probe, or two side by side that are looked at by one eye. */
export function SurfaceCanvas(props: { project: string; form: Shapes["FormState"] | undefined; panes: PaneProps[] }) {
  const { form, panes } = props;
  return (
    <>
      <div className="absolute inset-0 flex">
        {panes.map((pane, index) => (
          <div key={index} className={`relative min-w-0 flex-1 ${index ? "border-paper border-l-2" : ""}`}>
            <ProbePane {...pane} />
            {panes.length > 1 && (
              <h2 className="pointer-events-none absolute top-0 left-1/2 -translate-x-1/2 bg-paper px-2 py-1 font-semibold">
                {pane.label}
              </h2>
            )}
          </div>
        ))}
      </div>
      {form && !form.body.parts?.length && (
        <div className="text-page">
          <FormMissing
            project={props.project}
            title={tr("Nothing to look at yet")}
            says={tr("Here stripes and curvature show a flaw before a highlight does.")}
          />
        </div>
      )}
    </>
  );
}
