"""What is said of what Setup does not take."""

from __future__ import annotations

from cravik.core.text.faults.wording import Words

NAMES: Words = {"name_taken": "That name is taken.", "name_taken_near": "That name is taken; {free} is free."}
HOSTS: Words = {
    "host_name_malformed": "Write a name such as pay.your-name.example.",
    "host_name_private": "That name works only inside a private network.",
    "host_name_ours": "That is Cravik's own address.",
}
