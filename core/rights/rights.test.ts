import { describe, expect, it } from "vitest";
import { firstPage, mayDo, rights, roles, rolesInWords, storedRoles, type Right, type Role } from "./rights";

/** The whole matrix, written out: who may do what. */
const matrix: Record<Right, readonly Role[]> = {
  "open-study": ["owner", "designer", "analyst", "reader"],
  "see-design": ["owner", "designer", "reader"],
  "change-design": ["owner", "designer"],
  rehearse: ["owner", "designer"],
  "hand-out": ["owner", "designer"],
  "see-sessions": ["owner", "designer", "analyst"],
  "start-sessions": ["owner", "designer", "assistant"],
  note: ["owner", "designer", "assistant", "analyst"],
  "see-results": ["owner", "analyst"],
  "leave-out": ["owner", "analyst"],
  "keep-data": ["owner"],
  share: ["owner"],
  "end-study": ["owner"],
};

describe("rights", () => {
  it("are what the matrix says, for each role alone", () => {
    expect(rights.toSorted()).toEqual(Object.keys(matrix).toSorted());
    for (const right of rights)
      expect([right, roles.filter((role) => mayDo([role], right))]).toEqual([right, matrix[right]]);
  });

  it("of several roles are those of each together, and nobody without a role has any", () => {
    for (const right of rights) {
      expect(mayDo([], right)).toBe(false);
      for (const one of roles)
        for (const other of roles)
          expect(mayDo([one, other], right)).toBe(mayDo([one], right) || mayDo([other], right));
    }
  });

  it("are read from what is stored, in their order, without what is no role", () => {
    expect(storedRoles("analyst designer king")).toEqual(["designer", "analyst"]);
    expect(storedRoles("")).toEqual([]);
    expect(rolesInWords(["reader", "assistant", "reader"])).toBe("an assistant and a reader");
  });

  it("say on which page somebody begins", () => {
    expect(roles.map((role) => firstPage([role]))).toEqual(["plan", "plan", "laboratory", "collect", "plan"]);
    expect(firstPage(["assistant", "reader"])).toBe("plan");
  });
});
