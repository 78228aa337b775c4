package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/caarlos0/env/v11"
	"github.com/spf13/cobra"

	"chalkstep/app/actor"
	"chalkstep/store"
)

// newWorkshop makes an empty workshop with its owner's account.
func newWorkshop() *cobra.Command {
	s, envError := env.ParseAs[settings]()
	var name, zone, owner, email string
	cmd := &cobra.Command{
		Use:   "workshop --name NAME --zone ZONE --owner NAME --email EMAIL",
		Short: "Make an empty workshop and its owner's account; the password is read from standard input",
		Args:  usageArgs(cobra.NoArgs),
		RunE: func(cmd *cobra.Command, _ []string) (err error) {
			if envError != nil {
				return usageError{fmt.Errorf("reading the settings from the environment: %w", envError)}
			}
			if name == "" || owner == "" || email == "" {
				return usageError{errors.New("--name, --owner and --email are needed")}
			}
			fmt.Fprint(cmd.ErrOrStderr(), "Password for "+email+", at least 10 characters: ")
			password, err := readPassword(cmd.InOrStdin())
			if err != nil {
				return err
			}
			db, closing, err := s.openDatabase(cmd.Context())
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, closing()) }()
			if err := createWorkshop(cmd.Context(), db, name, zone, store.Person{Name: owner, Email: email, Role: store.Owner},
				password); err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s is ready: start it with chalkstep serve and sign in as %s.\n", name, email)
			return nil
		},
	}
	cmd.Flags().StringVar(&name, "name", "", "the workshop's name")
	cmd.Flags().StringVar(&zone, "zone", "UTC", "its time zone, such as Europe/Dublin")
	cmd.Flags().StringVar(&owner, "owner", "", "the owner's name")
	cmd.Flags().StringVar(&email, "email", "", "the owner's e-mail, to sign in with")
	s.databaseFlags(cmd)
	return cmd
}

func readPassword(from io.Reader) (string, error) {
	line, err := bufio.NewReader(from).ReadString('\n')
	if err != nil && !errors.Is(err, io.EOF) {
		return "", fmt.Errorf("reading the password: %w", err)
	}
	password := strings.TrimRight(line, "\r\n")
	if len([]rune(password)) < actor.ShortestPassword {
		return "", fmt.Errorf("the password has to have at least %d characters", actor.ShortestPassword)
	}
	return password, nil
}

// createWorkshop makes workshop and owner together or not at all.
func createWorkshop(ctx context.Context, db *store.Store, name, zone string, owner store.Person,
	password string) error {
	if _, err := time.LoadLocation(zone); err != nil {
		return fmt.Errorf("time zone %q is not known: expected one such as Europe/Dublin", zone)
	}
	hash, err := actor.HashPassword(password)
	if err != nil {
		return err
	}
	return db.InTx(ctx, func(tx *store.Store) error {
		workshop, err := tx.CreateWorkshop(ctx, name, zone)
		if err != nil {
			return err
		}
		_, err = tx.For(ctx, workshop.ID).AddAccount(owner, hash)
		return err
	})
}
