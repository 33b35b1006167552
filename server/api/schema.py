"""What every request and response is made of. Not ninja's own class: that one asks for each field of each row
through a getter of its own, which takes longer than the rest of a list."""

from pydantic import BaseModel, ConfigDict


class Schema(BaseModel):
    model_config = ConfigDict(from_attributes=True)
