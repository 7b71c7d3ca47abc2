import { defineConfig } from "@hey-api/openapi-ts";

// From the description of the admin API: readers of what it answers, which believe nothing, and with them the types.
export default defineConfig({
  input: "../docs/openapi.json",
  output: { path: "src/api/contract" },
  plugins: [
    {
      name: "valibot",
      definitions: true,
      requests: false,
      responses: false,
      "~resolvers": {
        // The generator reads the values of a map only where they are of a simple type; these are records as well.
        object: (it) => {
          const values = it.schema.additionalProperties;
          if (values && !values.type)
            it.nodes.additionalProperties = (map) => {
              const read = map.walk(values, { path: map.path, plugin: map.plugin });
              return map.pipes.toNode(read.pipes, map.plugin);
            };
          return it.nodes.base(it);
        },
      },
    },
  ],
});
