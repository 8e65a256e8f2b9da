package measure

// Celsius turns degrees Fahrenheit into degrees Celsius, exactly as defined: (F − 32) · 5/9.
func Celsius(f float64) float64 { return (f - 32) * 5 / 9 }

// Fahrenheit turns degrees Celsius into degrees Fahrenheit.
func Fahrenheit(c float64) float64 { return c*9/5 + 32 }
