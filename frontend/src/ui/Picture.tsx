import { useEffect, useState } from "react";

/** A picture that may be replaced by a newer one: the old one stays until the new one is here, and a missing one shows nothing. */
export function Picture(props: { src: string; alt: string; className?: string; draggable?: boolean }) {
  const [shown, setShown] = useState<string | null>(null);
  useEffect(() => {
    const coming = new Image();
    coming.onload = () => setShown(coming.src);
    coming.src = props.src;
    return () => {
      coming.onload = null;
    };
  }, [props.src]);
  if (!shown) {
    // one without words is an ornament: until it comes there is nothing to be told of it
    const told = props.alt ? ({ role: "img", "aria-label": props.alt } as const) : ({ "aria-hidden": true } as const);
    return <span {...told} className={`block ${props.className ?? ""}`} />;
  }
  return <img src={shown} alt={props.alt} className={props.className} draggable={props.draggable} />;
}

/** Where a take's present picture is. */
export function pictureOf(project: string, take: { id: string; picture?: string | null }): string {
  return `/api/projects/${project}/takes/${take.id}/picture?at=${take.picture}`;
}
