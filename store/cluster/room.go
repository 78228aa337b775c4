package cluster

import (
	"fmt"
	"syscall"
)

// leastRoom is what the server needs to go on by itself while nothing is saved:
// a few segments of its log, and whatever it tidies.
const leastRoom = 64 << 20

// Room is an error when the disk of the data folder is about to be full. A
// server that cannot write its log ends, and comes back only once there is room.
func (c *Cluster) Room() error {
	var disk syscall.Statfs_t
	if err := syscall.Statfs(c.data, &disk); err != nil {
		return fmt.Errorf("looking how much room there is for the database: %w", err)
	}
	if free := int64(disk.Bavail) * disk.Bsize; free < leastRoom {
		return fmt.Errorf("%d MB are free where the database is, and it keeps %d MB", free>>20, leastRoom>>20)
	}
	return nil
}
