import { Component, type ReactNode } from "react";
import { Button } from "../ui/controls";
import { tr } from "../words/words";

/** Holds a stage that cannot be shown, so that the others, and what is on its way, stay. */
export class StageBoundary extends Component<{ stage: string; children: ReactNode }, { error: Error | null }> {
  override state = { error: null as Error | null };

  static getDerivedStateFromError(error: Error) {
    return { error };
  }

  override render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    // browsers say this in words of their own; what they have in common is that a module is spoken of
    const missing = /module/i.test(error.message);
    return (
      <main className="mx-auto max-w-[34rem] px-6 pt-[18vh]" role="alert">
        <p className="mb-3 font-semibold font-serif text-[1.6rem]">
          {this.props.stage} {tr("cannot be shown")}
        </p>
        <p className="mb-4 text-quiet">
          {missing
            ? tr("A part of the application did not come: the server cannot be reached, or it was updated meanwhile.")
            : tr`Something went wrong here: ${error.message}`}{" "}
          {tr("Every acknowledged edit is safe. The other stages still work; reload the page to try this one again.")}
        </p>
        <Button weight="act" onClick={() => location.reload()}>
          {tr("Reload the page")}
        </Button>
      </main>
    );
  }
}
