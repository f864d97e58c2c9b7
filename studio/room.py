"""What the system says when there is no room left to write, or it may not be written to."""

import errno

FULL = {errno.ENOSPC, errno.EDQUOT, errno.EFBIG, errno.EROFS, errno.EACCES, errno.EPERM}
NO_ROOM = (
    "There is no room left where the studio keeps its data, or it may not be written to. What was kept before is safe; "
    "make room and try again."
)
