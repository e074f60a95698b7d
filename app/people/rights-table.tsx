import { Check } from "lucide-react";
import { mayDo, rightInWords, rights, roles } from "~/core/rights/rights";

/** What each role may do: the one table by which everything is decided. */
export const RightsTable = () => (
  <section aria-labelledby="rights">
    <h2 id="rights" className="font-serif text-[20px]">
      What each may do
    </h2>
    <table className="mt-2 w-full text-left text-sm">
      <thead>
        <tr className="border-b border-ink align-bottom text-xs text-muted">
          <td />
          {roles.map((role) => (
            <th key={role} scope="col" className="px-1 pb-1 text-center font-semibold">
              {role}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rights.map((right) => (
          <tr key={right} className="border-b border-hairline">
            <th scope="row" className="py-1 pr-2 font-normal">
              {rightInWords(right)}
            </th>
            {roles.map((role) => (
              <td key={role} className="px-1 text-center">
                {mayDo([role], right) ? (
                  <Check size={15} role="img" aria-label="may" className="mx-auto text-plumage" />
                ) : (
                  <span aria-hidden="true" className="text-muted">
                    –
                  </span>
                )}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  </section>
);
