// Checks access tokens in the API itself, with github.com/golang-jwt/jwt/v5 and github.com/MicahParks/keyfunc/v3. Run:
// go run check.go TOKEN SCOPE
package main

import (
	"errors"
	"fmt"
	"os"
	"slices"
	"strings"
	"time"

	"github.com/MicahParks/keyfunc/v3"
	"github.com/golang-jwt/jwt/v5"
)

func check(keys keyfunc.Keyfunc, token, scope string) (jwt.MapClaims, error) {
	claims := jwt.MapClaims{}
	parsed, err := jwt.ParseWithClaims(token, claims, keys.Keyfunc,
		jwt.WithValidMethods(strings.Fields(os.Getenv("ALGORITHMS"))),
		jwt.WithIssuer(os.Getenv("ISSUER")), jwt.WithAudience(os.Getenv("AUDIENCE")), jwt.WithExpirationRequired(),
		jwt.WithLeeway(30*time.Second))
	if err != nil {
		return nil, err
	}
	if parsed.Header["typ"] != "at+jwt" {
		return nil, errors.New("no access token")
	}
	held, _ := claims["scope"].(string)
	if !slices.Contains(strings.Fields(held), scope) {
		return nil, errors.New("insufficient_scope") // answer 403, not 401
	}
	return claims, nil
}

func main() {
	// fetched now and then, and anew when an unknown key id comes
	keys, err := keyfunc.NewDefault([]string{os.Getenv("JWKS_URI")})
	if err != nil {
		panic(err)
	}
	claims, err := check(keys, os.Args[1], os.Args[2])
	if err != nil {
		fmt.Println("refused:", err)
		os.Exit(1)
	}
	fmt.Println("admitted", claims["sub"])
}
