package main

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"falda/internal/core/label"
	"falda/internal/paper"
	"fmt"
	"image/png"
	"io"
	"net"
	"os"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"falda/internal/core/measure"
	"falda/internal/demo"
	"falda/internal/device"
)

func simulateCommand() *cobra.Command {
	c := &cobra.Command{Use: "simulate", Short: "Stand-ins for devices"}
	c.AddCommand(simulateScaleCommand(), simulateProbeCommand(), simulatePrinterCommand(),
		simulateMarketCommand(), simulateTillCommand())
	return c
}

func simulateScaleCommand() *cobra.Command {
	var addr, division, limit, unit, speaks string
	var settle time.Duration
	scale := &cobra.Command{
		Use: "scale",
		Short: "A scale on loopback; commands typed here are carried out (put 1180, take, tare, clear, zero, fault noise; " +
			"put is in grams)",
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if err := loopbackOnly(addr); err != nil {
				return err
			}
			u := measure.Unit(unit)
			if !u.Valid() {
				return errors.New("--unit: must be g, kg, lb or oz")
			}
			var e measure.Mass // the scale's own where none is given
			if division != "" {
				var err error
				if e, err = measure.ParseMass(division, u); err != nil || e <= 0 {
					return errors.New("--division: must be above zero, in the scale's unit")
				}
			}
			m, err := measure.ParseMass(limit, measure.UnitKilogram)
			if err != nil || m <= 0 {
				return errors.New("--max: must be kilograms above zero")
			}
			if _, ok := device.Dialects[speaks]; speaks != "" && !ok {
				return errors.New("--speaks: must be letters, fields or bare")
			}
			if speaks != "" {
				fmt.Println("read it by", device.Dialects[speaks])
			}
			return simulateScale(c.Context(), addr,
				&device.SimScale{Division: e, Max: m, Settle: settle, Unit: u, Speaks: speaks}, os.Stdin)
		},
	}
	scale.Flags().StringVar(&addr, "addr", "127.0.0.1:7001", "address to speak on; port 0 takes any free port")
	scale.Flags().StringVar(&division, "division", "", "division in the scale's unit; 5 g or 0.01 lb when left out")
	scale.Flags().StringVar(&unit, "unit", "g", "unit that it shows: g, kg, lb or oz")
	scale.Flags().StringVar(&limit, "max", "30", "most it weighs, in kilograms")
	scale.Flags().StringVar(&speaks, "speaks", "", "as scales of other makes do: letters, fields or bare")
	scale.Flags().DurationVar(&settle, "settle", 600*time.Millisecond, "how long the pan moves after a change")
	return scale
}

func simulateProbeCommand() *cobra.Command {
	var at string
	var from float64
	probe := &cobra.Command{
		Use:   "probe",
		Short: "A thermometer on loopback; commands typed here are carried out (put 3.4, fault noise)",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if err := loopbackOnly(at); err != nil {
				return err
			}
			return simulateProbe(c.Context(), at, &device.SimProbe{C: from}, os.Stdin)
		},
	}
	probe.Flags().StringVar(&at, "addr", "127.0.0.1:7002", "address to speak on; port 0 takes any free port")
	probe.Flags().Float64Var(&from, "at", 4, "temperature that it lies in at first, in °C")
	return probe
}

func simulatePrinterCommand() *cobra.Command {
	var at, into string
	printer := &cobra.Command{
		Use:   "printer",
		Short: "A label printer on loopback; what it prints it writes as PNG into a folder (paper out, paper in)",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if err := loopbackOnly(at); err != nil {
				return err
			}
			n := 0
			sim := &device.SimPrinter{Printed: func(page label.Page, copies int) {
				n++
				where := filepath.Join(into, fmt.Sprintf("label-%03d.png", n))
				if err := writeLabel(where, page); err != nil {
					fmt.Println(err)
					return
				}
				fmt.Println("printed", copies, where)
			}}
			return simulate(c.Context(), at, sim.Serve,
				func(at string) obeying { return device.ConnectPrinter(c.Context(), at) }, os.Stdin)
		},
	}
	printer.Flags().StringVar(&at, "addr", "127.0.0.1:7004", "address to speak on; port 0 takes any free port")
	printer.Flags().StringVar(&into, "to", ".", "folder that the labels are written into")
	return printer
}

// writeLabel writes a label as a picture.
func writeLabel(where string, page label.Page) error {
	img, err := paper.Picture(page)
	if err != nil {
		return err
	}
	var out bytes.Buffer
	if err := png.Encode(&out, img); err != nil {
		return err
	}
	return os.WriteFile(where, out.Bytes(), 0o600)
}

func simulateMarketCommand() *cobra.Command {
	return simulateListCommand("market", "A market's file server on loopback: /prices.csv, a price list of the day",
		"127.0.0.1:7003", &device.SimFeed{Path: "/prices.csv", Rows: demo.FeedRows})
}

func simulateTillCommand() *cobra.Command {
	return simulateListCommand("till", "A till on loopback: /sales.csv, what it sold in the last three days",
		"127.0.0.1:7005", &device.SimFeed{Path: "/sales.csv", Rows: demo.TillRows})
}

// simulateListCommand is a stand-in that serves a list.
func simulateListCommand(use, short, usual string, sim *device.SimFeed) *cobra.Command {
	var where string
	c := &cobra.Command{
		Use:   use,
		Short: short,
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if err := loopbackOnly(where); err != nil {
				return err
			}
			l, err := net.Listen("tcp", where)
			if err != nil {
				return err
			}
			fmt.Println("ready http://" + l.Addr().String() + sim.Path)
			return sim.Serve(c.Context(), l)
		},
	}
	c.Flags().StringVar(&where, "addr", usual, "address to serve on; port 0 takes any free port")
	return c
}

// simulateScale serves a scale and sends it what is typed, as any listener could.
func simulateScale(ctx context.Context, addr string, sim *device.SimScale, typed io.Reader) error {
	return simulate(ctx, addr, sim.Serve, func(at string) obeying { return device.Connect(ctx, at) }, typed)
}

// simulateProbe serves a thermometer likewise.
func simulateProbe(ctx context.Context, addr string, sim *device.SimProbe, typed io.Reader) error {
	return simulate(ctx, addr, sim.Serve, func(at string) obeying { return device.ConnectProbe(ctx, at) }, typed)
}

// obeying is a device that carries out commands.
type obeying interface {
	Command(ctx context.Context, command string) error
}

func simulate(ctx context.Context, addr string, serve func(context.Context, net.Listener) error,
	connect func(at string) obeying, typed io.Reader) error {
	l, err := net.Listen("tcp", addr)
	if err != nil {
		return err
	}
	fmt.Println("ready", l.Addr())
	go func() {
		device := connect(l.Addr().String())
		lines := bufio.NewScanner(typed)
		for lines.Scan() {
			if lines.Text() == "" {
				continue
			}
			if err := device.Command(ctx, lines.Text()); err != nil {
				fmt.Println(err)
				continue
			}
			fmt.Println("ok")
		}
	}()
	return serve(ctx, l)
}
