/** How a link between screens looks; the one that is open is underlined. */
export const NAV_LINK =
  "flex min-h-11 items-center rounded-md px-2.5 hover:bg-lit aria-[current=page]:font-bold aria-[current=page]:underline aria-[current=page]:decoration-2 aria-[current=page]:underline-offset-8";
