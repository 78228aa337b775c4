package cluster

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"syscall"
)

// What lies in a data folder.
const (
	clusterFolder = "postgres"
	passwordFile  = "postgres-password"
	elsewhereNote = "DATABASE-IS-ELSEWHERE.txt"
)

// prepare makes the folder and, the first time, the cluster in it. What is
// there already and is no cluster is never touched: it is somebody's.
func (c *Cluster) prepare(ctx context.Context, folder string) error {
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return fmt.Errorf("making the data folder: %w", err)
	}
	if c.who != nil && !c.canEnter(ctx, folder) {
		if err := c.moveOut(folder); err != nil {
			return err
		}
	} else if err := c.notElsewhere(folder); err != nil {
		return err
	}
	found, err := c.look()
	if err != nil {
		return err
	}
	password := filepath.Join(folder, passwordFile)
	kept, err := os.ReadFile(password)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("reading the database's password: %w", err)
	}
	c.pass = strings.TrimSpace(string(kept))
	if found {
		if c.pass == "" {
			return fmt.Errorf("the database in %s is there, but its password in %s is not: put that file back from where the "+
				"folder came from", c.data, password)
		}
		return c.own()
	}
	if c.pass == "" {
		// Kept before the cluster is there, so that no power cut leaves a
		// cluster that nobody can enter.
		c.pass = rand.Text()
		if err := os.WriteFile(password, []byte(c.pass+"\n"), 0o600); err != nil {
			return fmt.Errorf("keeping the database's password: %w", err)
		}
	}
	return c.create(ctx)
}

// look tells whether the cluster is there. It is an error when something else
// is in its place.
func (c *Cluster) look() (found bool, err error) {
	if _, err := os.Stat(filepath.Join(c.data, "PG_VERSION")); err == nil {
		return true, nil
	}
	entries, err := os.ReadDir(c.data)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return false, nil
	case err != nil:
		return false, fmt.Errorf("looking for the database in %s: %w", c.data, err)
	case len(entries) == 0:
		return false, nil
	}
	return false, fmt.Errorf(
		"%s holds %s but no PG_VERSION, so it is not a whole database and was left as it is: put the missing file back "+
			"from a copy, move the folder away to start afresh, or choose another folder with --data",
		c.data, some(entries))
}

// some names a few of the entries of a folder.
func some(entries []fs.DirEntry) string {
	const most = 3
	var names []string
	for _, e := range entries[:min(most, len(entries))] {
		names = append(names, e.Name())
	}
	if more := len(entries) - len(names); more > 0 {
		return fmt.Sprintf("%s and %d more", strings.Join(names, ", "), more)
	}
	return strings.Join(names, ", ")
}

// own gives the cluster the owner and the modes that the server insists on,
// which a plain copy of the folder does not keep.
func (c *Cluster) own() error {
	const private, shared = 0o700, 0o750
	info, err := os.Stat(c.data)
	if err != nil {
		return fmt.Errorf("looking at the database folder: %w", err)
	}
	if mode := info.Mode().Perm(); mode != private && mode != shared {
		slog.Info("making the database folder private, as the server insists on", "folder", c.data, "mode was",
			fmt.Sprintf("%#o", mode))
		if err := os.Chmod(c.data, private); err != nil {
			return fmt.Errorf("making the database folder private: %w", err)
		}
	}
	if c.who == nil || owner(info) == c.who.Uid {
		return nil
	}
	slog.Info("giving the database folder to the postgres user", "folder", c.data)
	err = filepath.WalkDir(c.data, func(path string, _ fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		return os.Lchown(path, int(c.who.Uid), int(c.who.Gid))
	})
	if err != nil {
		return fmt.Errorf("giving the database folder to the postgres user: %w", err)
	}
	return nil
}

// canEnter tells whether the postgres user can reach the folder at all.
func (c *Cluster) canEnter(ctx context.Context, folder string) bool {
	cmd := c.command(ctx, "/usr/bin/test", "-x", folder)
	return cmd.Run() == nil
}

// moveOut puts the cluster where the postgres user can reach it, when the
// project lies in a folder closed to it, as root's home is.
func (c *Cluster) moveOut(folder string) error {
	name := strings.Trim(strings.ReplaceAll(folder, string(filepath.Separator), "-"), "-")
	home := filepath.Join("/var/lib/chalkstep", name)
	c.data = filepath.Join(home, clusterFolder)
	if err := c.notElsewhere(folder); err != nil {
		return err
	}
	if err := os.MkdirAll(home, 0o755); err != nil {
		return fmt.Errorf("the postgres user cannot enter %s, and making %s failed: %w", folder, home, err)
	}
	if err := os.WriteFile(filepath.Join(folder, elsewhereNote), []byte(elsewhereText+c.data+"\n"), 0o644); err != nil {
		return fmt.Errorf("noting where the database lies: %w", err)
	}
	return nil
}

const elsewhereText = "The postgres user cannot enter this folder, so the database lies in\n"

// notElsewhere makes sure that a note in the folder, if there is one, speaks
// of this cluster: the note may have come along when the folder was copied or
// moved, and then the database has stayed behind.
func (c *Cluster) notElsewhere(folder string) error {
	note, err := os.ReadFile(filepath.Join(folder, elsewhereNote))
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err != nil {
		return fmt.Errorf("reading where the database lies: %w", err)
	}
	noted := strings.TrimSpace(strings.TrimPrefix(string(note), elsewhereText))
	if noted == c.data {
		return nil
	}
	if _, err := os.Stat(filepath.Join(c.data, "PG_VERSION")); err == nil {
		return nil // it was brought along
	}
	return fmt.Errorf("the database of this data folder lies in %s, as %s says, and was not copied with it: copy it to "+
		"%s with Chalk Step stopped, then start again", noted, filepath.Join(folder, elsewhereNote), c.data)
}

// create makes the cluster in a folder beside its place and moves it there
// when it is whole, so that what stands in its place is never half a cluster.
func (c *Cluster) create(ctx context.Context) (err error) {
	making, err := os.MkdirTemp(filepath.Dir(c.data), clusterFolder+"-being-made-")
	if err != nil {
		return fmt.Errorf("making the database folder: %w", err)
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, os.RemoveAll(making)) // made above, in this run
		}
	}()
	if c.who != nil {
		if err := os.Chown(making, int(c.who.Uid), int(c.who.Gid)); err != nil {
			return fmt.Errorf("giving the database folder to the postgres user: %w", err)
		}
	}
	if err := c.initialise(ctx, making); err != nil {
		return err
	}
	// An empty folder may stand in the place; anything else makes this fail.
	if err := syscall.Rename(making, c.data); err != nil {
		return fmt.Errorf("putting the database in its place: %w", err)
	}
	return nil
}

// initialise creates the cluster in a folder. The password reaches initdb in
// a file of its own, as the postgres user may not read one of root's.
func (c *Cluster) initialise(ctx context.Context, folder string) error {
	file, err := os.CreateTemp(filepath.Dir(c.data), "initial-password-")
	if err != nil {
		return fmt.Errorf("handing over the database's password: %w", err)
	}
	defer os.Remove(file.Name())
	_, err = file.WriteString(c.pass + "\n")
	if err = errors.Join(err, file.Close()); err != nil {
		return fmt.Errorf("handing over the database's password: %w", err)
	}
	if c.who != nil {
		if err := os.Chown(file.Name(), int(c.who.Uid), int(c.who.Gid)); err != nil {
			return fmt.Errorf("handing over the database's password: %w", err)
		}
	}
	args := []string{"-D", folder, "-U", superuser, "--auth=scram-sha-256", "--pwfile=" + file.Name(), "--encoding=UTF8",
		"--locale=C.UTF-8"}
	if c.options.Throwaway {
		args = append(args, "--no-sync")
	}
	if out, err := c.command(ctx, filepath.Join(c.bin, "initdb"), args...).CombinedOutput(); err != nil {
		return fmt.Errorf("creating the database: %w: %s", err, lastLines(out))
	}
	return nil
}
