"""One archive of everything that an installation cannot be made anew from.

Owns: the folder of back-ups. ``taking`` writes an archive, ``reading`` unpacks and verifies one, ``restoring`` puts
one in the place of what there is, ``keeping`` says which stay, ``shelf`` lists them with what is known of each.

An archive is a gzipped tar (``.tar.gz``) of the database's copy, ``pictures/``, ``files/``, ``secret_key``,
``version`` and ``manifest.json``; locked, it is an age file (https://age-encryption.org/v1) of that, ending in
``.age``.
"""
