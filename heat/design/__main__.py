"""Print the JSON Schema of the design document."""

import json

from heat.design.document import schema

if __name__ == "__main__":
    print(json.dumps(schema(), indent=1, ensure_ascii=False))
