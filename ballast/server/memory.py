"""How memory is tidied while the server runs."""

import gc


def settle() -> None:
    """To be called once all is loaded: what is there stays for good and is looked through no more.

    An answer makes many small things and drops them together: tidying waits until there are more of them than that. Of a slice of
    rigs what hangs in circles is looked through soon after, before the next slices take as much again.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(15_000, 2, 4)
