// With github.com/golang-jwt/jwt/v5. go run connect.go, with the settings in the environment and the private key in
// the file PRIVATE_KEY (PEM, for ES256). RFC 7523 §2.2.
package main

import (
	"crypto/rand"
	"encoding/hex"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"os"
	"time"

	"github.com/golang-jwt/jwt/v5"
)

func must[T any](value T, err error) T {
	if err != nil {
		panic(err)
	}
	return value
}

func main() {
	id := make([]byte, 16)
	must(rand.Read(id))
	now := time.Now()
	claims := jwt.MapClaims{"iss": os.Getenv("CLIENT_ID"), "sub": os.Getenv("CLIENT_ID"),
		"aud": os.Getenv("TOKEN_ENDPOINT"),
		"jti": hex.EncodeToString(id), "iat": now.Unix(), "exp": now.Add(time.Minute).Unix()}
	key := must(jwt.ParseECPrivateKeyFromPEM(must(os.ReadFile(os.Getenv("PRIVATE_KEY")))))
	assertion := must(jwt.NewWithClaims(jwt.SigningMethodES256, claims).SignedString(key))
	answer := must(http.PostForm(os.Getenv("TOKEN_ENDPOINT"), url.Values{"grant_type": {"client_credentials"},
		"scope":                 {os.Getenv("SCOPE")},
		"client_assertion":      {assertion},
		"client_assertion_type": {"urn:ietf:params:oauth:client-assertion-type:jwt-bearer"}}))
	defer answer.Body.Close()
	fmt.Println(string(must(io.ReadAll(answer.Body)))) // {"access_token": …, "expires_in": …} or {"error": …}
	if answer.StatusCode != 200 {
		os.Exit(1)
	}
}
