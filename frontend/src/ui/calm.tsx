import { type ComponentType, memo, useLayoutEffect, useRef } from "react";

type Doing = (...values: never[]) => unknown;

/**
 * A component that is drawn anew only where something it shows has changed. What it can do is made anew with every drawing of
 * whoever holds it; it is given functions that stay the same ones and do what the newest do.
 */
export function calm<Props extends object>(Component: ComponentType<Props>): (props: Props) => React.ReactElement {
  const Still = memo(Component) as unknown as ComponentType<Props>;
  return function Calm(props: Props) {
    const newest = useRef(props);
    const steady = useRef(new Map<string, Doing>());
    useLayoutEffect(() => {
      newest.current = props;
    });
    const given = Object.entries(props).map(([name, value]) => {
      if (typeof value !== "function") return [name, value];
      if (!steady.current.has(name))
        steady.current.set(name, (...values) => (newest.current as Record<string, Doing>)[name]!(...values));
      return [name, steady.current.get(name)];
    });
    return <Still {...(Object.fromEntries(given) as Props)} />;
  };
}
