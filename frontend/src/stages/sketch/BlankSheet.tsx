export function BlankSheet(props: { onPicture: () => void }) {
  return (
    <div className="pointer-events-none absolute inset-x-0 top-[30%] text-center">
      <p className="font-semibold font-serif text-[1.6rem]">A blank sheet</p>
      <p className="mt-1 text-quiet">
        Think on paper: draw with the pen or the mouse, or{" "}
        <button type="button" onClick={props.onPicture} className="pointer-events-auto text-act underline">
          place a picture
        </button>{" "}
        to draw over.
      </p>
    </div>
  );
}
