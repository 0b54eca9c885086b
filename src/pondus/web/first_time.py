"""Someone's first time with one instrument: what to look at, and the instrument that begins from it."""

from uuid import uuid4

from apiflask import APIBlueprint

from pondus.contracts.first_time import LooksOut, NewFirstTime
from pondus.contracts.instruments import InstrumentOut
from pondus.core.views import first_time
from pondus.store import instruments as instrument_store
from pondus.store.settings import change_settings, studio_clock
from pondus.store.tables import InstrumentRow, StringRow
from pondus.web.instruments import instrument_out
from pondus.web.transaction import transaction

blueprint = APIBlueprint("first_time", __name__, tag="First time")


@blueprint.get("/first-time")
@blueprint.output(LooksOut)
def looks() -> LooksOut:
    """What is looked at before a string is touched."""
    return LooksOut.model_validate(
        {
            "kinds": first_time.KINDS,
            "bridges": first_time.BRIDGES,
            "bridge_help": first_time.BRIDGE_HELP,
            "fine_tuners": first_time.FINE_TUNERS,
            "strings": first_time.STRINGS,
        }
    )


@blueprint.post("/first-time")
@blueprint.input(NewFirstTime, arg_name="new")
@blueprint.output(InstrumentOut)
def begin(new: NewFirstTime) -> InstrumentOut:
    """Begin with one instrument, whole or not at all; sent twice, it is begun once. A bridge that doesn't stand is refused.

    Raises BadInput or Conflict.
    """
    with transaction() as session:
        begun = first_time.first_time(
            kind=new.kind,
            size=new.size,
            bridge=new.bridge,
            strings=new.strings,
            adult=new.adult,
            fine_tuners=new.fine_tuners,
            clock=studio_clock(session),
        )
        entry = begun.instrument
        row = InstrumentRow(id=new.id, label=entry.label, kind=entry.kind, size=entry.size, bridge=begun.bridge)
        strings = [StringRow(id=uuid4(), instrument_id=new.id, name=name, **of.__dict__) for name, of in entry.strings.items()]
        kept = instrument_store.add_instrument(session, row, strings)
        change_settings(session, new.id, {"who": begun.who, "tolerance_cents": begun.tolerance_cents})
        return instrument_out(kept)
