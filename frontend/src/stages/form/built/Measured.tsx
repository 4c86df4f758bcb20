import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../../../api/client";
import { at } from "../../../api/queries";
import { Row } from "../../../ui/controls";
import { useReading } from "../../../ui/numbers/reading";
import { tr } from "../../../words/words";
import { edgeOf } from "./SolidEdges";

/** What is measured of what is picked of a built part: from its exact geometry. */
export function Measured(props: {
  project: string;
  document: string;
  part: string;
  /** The key of the part as it stands. */
  stands: string | undefined;
  edges: string[];
  faces: string[];
}) {
  const { project, document, part, stands, edges, faces } = props;
  const read = useReading();
  const { data, error } = useQuery({
    queryKey: ["measured", document, part, stands, edges, faces],
    queryFn: () =>
      answer(
        api.POST("/api/projects/{project}/forms/{document}/parts/{part}/measured", {
          params: { path: { ...at(project, document).params.path, part } },
          body: { edges: edges.map(edgeOf), faces },
        }),
      ),
    enabled: edges.length + faces.length > 0 && !!stands,
    placeholderData: (before) => before,
    retry: false,
  });
  if (!edges.length && !faces.length) return null;
  if (error) return <p className="text-quiet">{error.message}</p>;
  if (!data) return null;
  return (
    <div data-testid="measured">
      {edges.length > 0 && <Row label={tr("Length")}>{read.length(data.length, 2)}</Row>}
      {faces.length > 0 && (
        <Row label={tr("Area")}>
          {read.number(data.area, 1)} {tr("mm²")}
        </Row>
      )}
      {data.radius !== null && <Row label={tr("Radius")}>{read.length(data.radius, 3)}</Row>}
      {data.apart !== null && <Row label={tr("Apart")}>{read.length(data.apart, 3)}</Row>}
      {data.axes !== null && <Row label={tr("Axes apart")}>{read.length(data.axes, 3)}</Row>}
      {data.angle !== null && <Row label={tr("Angle between")}>{read.number(data.angle, 2)}°</Row>}
    </div>
  );
}
