/** What a link of somebody is called once its name was removed. */
export const nameless = "removed";
