"""Prints the OpenAPI document that the front end's types are made from."""

import json
from pathlib import Path

from adhaero.api.app import create_app
from adhaero.store.file import ShopFile

if __name__ == "__main__":
    print(json.dumps(create_app(ShopFile(Path("unused"))).openapi(), indent=1))
