// Hands what is left of a pot over to another batch: both books at once, a double tap is one.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { v7 } from "uuid";
import { answered, api, ask } from "../../api/client";

export function useHandOver(book: string, charge: string) {
  const client = useQueryClient();
  const id = useRef(v7());
  return useMutation({
    mutationFn: (to: string) =>
      ask(
        api.POST("/api/v1/books/{id}/hand-over", {
          params: { path: { id: book } },
          body: { id: id.current, charge, to_batch: to },
        }),
      ),
    onSuccess: async () => {
      id.current = v7();
      await client.invalidateQueries({ queryKey: ["batch"] });
      await client.invalidateQueries({ queryKey: ["board"] });
    },
    onError: (e) => {
      if (answered(e)) id.current = v7();
    },
  });
}
