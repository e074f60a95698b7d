import { UsedIn } from "~/app/components/used-in";
import { AddLine } from "~/app/components/add-line";
import { MarginList } from "~/app/components/margin-list";
import { Margin } from "~/app/compose/margin";
import { Property, Section, TextField } from "~/app/components/fields";
import { RemoveUsed } from "~/app/components/used-first";
import { newId } from "~/app/editing/new-id";
import { useStudy } from "~/app/editing/use-study";
import { addService, removeService, setService } from "~/core/design/edits/services";
import { rulesNaming } from "~/core/design/uses-of-rules";
import { freeTitle } from "~/core/values/names";
import { isOwnComputer, serviceUrl, type Service } from "~/core/values/service";

/** The services that rules of the study may ask, in the margin of Plan. */
export function ServiceList() {
  const { document, edit, look } = useStudy();
  const add = () => {
    const id = newId("service");
    const name = freeTitle(
      "Service",
      document.services.map((each) => each.name),
    );
    edit(addService({ id, name, address: "http://localhost:8077/" }));
    look({ selected: { kind: "service", service: id } });
  };
  return (
    <Section title="Services">
      <MarginList
        entries={document.services.map(({ id, name, address }) => ({
          ...{ id, name, hint: serviceUrl(address)?.host ?? "" },
          open: () => look({ selected: { kind: "service", service: id } }),
        }))}
      />
      <AddLine says="service" onClick={add} />
    </Section>
  );
}

/** One service: what it is called, where it is, which rules ask it. */
export function ServiceSettings({ service }: { service: Service }) {
  const { document, edit, look } = useStudy();
  const uses = rulesNaming(document, service.id);
  const set = (change: Partial<Service>, what: string) =>
    edit(setService(service.id, change), `service ${service.id} ${what}`);
  return (
    <Margin
      title={service.name}
      kind="service"
      up={{ name: "The study", holds: "as a whole", go: () => look({ selected: { kind: "nothing" } }) }}
      actions={
        <RemoveUsed
          label="Remove it"
          uses={uses}
          onRemove={() => {
            edit(removeService(service.id));
            look({ selected: { kind: "nothing" } });
          }}
        />
      }
    >
      <Section title="What">
        <Property label="Name" htmlFor="service-name">
          <TextField
            id="service-name"
            value={service.name}
            onChange={(name) => set({ name }, "name")}
            problem={(name) =>
              name.trim() === "" ? "A service needs a name." : name.length > 60 ? "At most 60 characters." : null
            }
          />
        </Property>
        <Property label="Address" htmlFor="service-address">
          <TextField
            id="service-address"
            value={service.address}
            onChange={(address) => set({ address }, "address")}
            problem={(address) =>
              serviceUrl(address) === null ? "Type an address such as https://scores.example/ask." : null
            }
          />
        </Property>
        <p className="text-xs text-muted">
          {isOwnComputer(service)
            ? "It is on the participant’s own computer, as a program of the laboratory. "
            : "The participant’s browser asks it, so that what a rule tells it leaves this server. "}
          A service for trying comes with Lapwing: <code>./lapwing try-service</code>.
        </p>
      </Section>
      <UsedIn title="Asked by" uses={uses} none="No rule yet: choose “ask a service” as what a rule does." />
    </Margin>
  );
}
