import type { Profile } from "./useProfiles";

/** A profile for tests. */
export const testProfile: Profile = {
  id: "training",
  name: "Training centre",
  description: "",
  digest: "",
  newest: 3,
  released: 1,
  entries: [],
  reserved: [],
  revisions: [],
  own: false,
};
