/** No more is done by rules between two records. */
export const mostFired = 1000;
/** No more of what rules react to is taken in one trial or page. */
export const mostActs = 1000;
/** Points stand among the variables of a record under this name. */
export const pointsKey = "session.points";
