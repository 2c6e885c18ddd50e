# Everything the engine may need is imported here, before the snapshot of memory is taken.
import sys

sys.path.insert(0, "/engine")

import _strptime  # noqa: F401
import decimal
import json
import skavo.core.interview.session as session
import skavo.core.visits.day  # noqa: F401

decimal.Decimal("0.1") + decimal.Decimal("0.2")
json.loads('{"a": [1, 2.5, "é"]}')
