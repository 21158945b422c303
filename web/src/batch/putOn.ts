// What putting this coat on is called: sprayed, or coated by brush or roller.
import type { Schemas } from "../api/client";

/** Cards stored before brush and roller had words of their own say nothing of it. */
const BY_GUN: Schemas["PutOnWords"] = { by_hand: false, roller: false, doing: "spraying", done: "sprayed" };

export const putOn = (view: { put_on?: Schemas["PutOnWords"] }) => view.put_on ?? BY_GUN;

export const capital = (word: string) => word.charAt(0).toUpperCase() + word.slice(1);
