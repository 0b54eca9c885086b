import { useMutation } from "@tanstack/react-query";

import type { components } from "./schema";
import { answered, api } from "./client";

/** Cards of a choice that is too long for an address: they come as a file. */
export function useManyCards() {
  return useMutation({
    mutationFn: (body: components["schemas"]["CardsWanted"]) => answered(api.POST("/api/cards.pdf", { body, parseAs: "blob" })),
    onSuccess: (file) => {
      const address = URL.createObjectURL(file);
      const link = document.createElement("a");
      link.href = address;
      link.download = "Cards.pdf";
      link.click();
      URL.revokeObjectURL(address);
    },
  });
}
