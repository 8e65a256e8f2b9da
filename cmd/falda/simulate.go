package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"time"

	"github.com/spf13/cobra"

	"falda/internal/core/measure"
	"falda/internal/device"
)

func simulateCommand() *cobra.Command {
	c := &cobra.Command{Use: "simulate", Short: "Stand-ins for devices"}
	var addr, division, most string
	var settle time.Duration
	scale := &cobra.Command{
		Use:   "scale",
		Short: "A scale on loopback; commands typed here are carried out (put 1180, take, tare, clear, zero, fault noise)",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if err := loopbackOnly(addr); err != nil {
				return err
			}
			e, err := measure.ParseMass(division, measure.UnitGram)
			if err != nil || e <= 0 {
				return errors.New("--division: must be grams above zero")
			}
			m, err := measure.ParseMass(most, measure.UnitKilogram)
			if err != nil || m <= 0 {
				return errors.New("--max: must be kilograms above zero")
			}
			return simulateScale(c.Context(), addr, &device.SimScale{Division: e, Max: m, Settle: settle}, os.Stdin)
		},
	}
	scale.Flags().StringVar(&addr, "addr", "127.0.0.1:7001", "address to speak on; port 0 takes any free port")
	scale.Flags().StringVar(&division, "division", "5", "division in grams")
	scale.Flags().StringVar(&most, "max", "30", "most it weighs, in kilograms")
	scale.Flags().DurationVar(&settle, "settle", 600*time.Millisecond, "how long the pan moves after a change")
	c.AddCommand(scale)
	return c
}

// simulateScale serves a scale and sends it what is typed, as any listener could.
func simulateScale(ctx context.Context, addr string, sim *device.SimScale, typed io.Reader) error {
	l, err := net.Listen("tcp", addr)
	if err != nil {
		return err
	}
	fmt.Println("ready", l.Addr())
	go func() {
		scale := device.Connect(ctx, l.Addr().String())
		lines := bufio.NewScanner(typed)
		for lines.Scan() {
			if lines.Text() == "" {
				continue
			}
			if err := scale.Command(ctx, lines.Text()); err != nil {
				fmt.Println(err)
				continue
			}
			fmt.Println("ok")
		}
	}()
	return sim.Serve(ctx, l)
}
