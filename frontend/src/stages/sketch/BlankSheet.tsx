import { tr } from "../../words/words";
export function BlankSheet(props: { onPicture: () => void }) {
  return (
    <div className="pointer-events-none absolute inset-x-0 top-[30%] text-center">
      <p className="font-semibold font-serif text-[1.6rem]">{tr("A blank sheet")}</p>
      <p className="mt-1 text-quiet">
        {tr("Think on paper: draw with the pen or the mouse, or")}{" "}
        <button type="button" onClick={props.onPicture} className="pointer-events-auto text-act underline">
          {tr("place a picture")}
        </button>{" "}
        {tr("to draw over.")}
      </p>
    </div>
  );
}
