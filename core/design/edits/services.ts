import type { Id } from "../../values/ref";
import type { Service } from "../../values/service";
import { assign, type Edit } from "./edit";

export const addService =
  (service: Service): Edit =>
  (draft) =>
    void draft.services.push(service);

export const setService =
  (id: Id, change: Partial<Omit<Service, "id">>): Edit =>
  (draft) => {
    const found = draft.services.find((each) => each.id === id);
    if (found) assign(found, change);
  };

/** Removes a service; rules that ask it are left to be looked at, which preflight asks for. */
export const removeService =
  (id: Id): Edit =>
  (draft) => {
    draft.services = draft.services.filter((each) => each.id !== id);
  };
