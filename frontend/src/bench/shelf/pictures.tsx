/** Small drawings of the ways to begin. */

const LINE = { fill: "none", stroke: "var(--ink)", strokeLinecap: "round" as const };

/** A pencil's first lines on a sheet. */
export function BlankSheetPicture() {
  return (
    <svg viewBox="0 0 320 100" className="h-full w-full" aria-hidden="true">
      <path {...LINE} strokeWidth="1.6" d="M98 74C96 40 108 26 160 25s66 14 63 49c-1 9-8 10-63 10s-61-1-62-10Z" />
      <path
        {...LINE}
        strokeWidth="0.9"
        opacity="0.6"
        d="M94 77C93 38 107 23 161 23s68 16 65 53M101 46c40-5 80-5 119 0"
      />
      <circle {...LINE} strokeWidth="1.3" cx="128" cy="62" r="11" />
      <path {...LINE} strokeWidth="0.8" opacity="0.55" d="M60 88h206M160 14v80" strokeDasharray="9 4 2 4" />
      <path d="m236 66 34-34 6 6-34 34-9 3Z" fill="var(--raised)" stroke="var(--ink)" strokeWidth="1.2" />
      <path d="m233 75 3-9 6 6Z" fill="var(--ink)" />
    </svg>
  );
}

/** A picture and a meshed form, coming in. */
export function FilePicture() {
  return (
    <svg viewBox="0 0 320 100" className="h-full w-full" aria-hidden="true">
      <rect x="66" y="22" width="84" height="58" fill="var(--raised)" stroke="var(--ink)" strokeWidth="1.3" />
      <path d="M66 72 92 46l20 19 12-10 26 24v1H66Z" fill="var(--plaster)" stroke="var(--ink)" strokeWidth="0.9" />
      <circle cx="130" cy="36" r="6" fill="var(--width)" opacity="0.7" />
      <g {...LINE} strokeWidth="1.1">
        <path d="M190 62c0-22 12-38 34-38s34 16 34 38-12 22-34 22-34 0-34-22Z" fill="var(--plaster)" />
        <path
          d="M224 24v60M203 30c-6 18-6 36 0 50M245 30c6 18 6 36 0 50M193 48c20 5 42 5 62 0M191 66c22 5 44 5 66 0"
          opacity="0.7"
        />
      </g>
    </svg>
  );
}

/** A project's chain in one file. */
export function ProjectPicture() {
  return (
    <svg viewBox="0 0 320 100" className="h-full w-full" aria-hidden="true">
      <path d="M92 16h110l26 22v48H92Z" fill="var(--raised)" stroke="var(--ink)" strokeWidth="1.3" />
      <path d="M202 16v22h26" {...LINE} strokeWidth="1.3" />
      <g {...LINE} strokeWidth="1.1">
        <path d="M124 62h16M156 62h8M180 62h16" />
        <rect x="106" y="54" width="18" height="16" />
        <circle cx="148" cy="62" r="8" fill="var(--plaster)" />
        <path d="M164 70v-16h16v16Z" fill="var(--page)" />
        <path d="m198 62 5 6 10-13" stroke="var(--act)" strokeWidth="2.4" />
      </g>
    </svg>
  );
}
