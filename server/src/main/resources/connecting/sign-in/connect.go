// go run connect.go prints where to send the browser, and a verifier to keep; go run connect.go CODE VERIFIER
// exchanges the code that came back (RFC 6749 §4.1, RFC 7636). The settings are in the environment.
package main

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"os"
	"strings"
)

func random() string {
	bytes := make([]byte, 32)
	if _, err := rand.Read(bytes); err != nil {
		panic(err)
	}
	return base64.RawURLEncoding.EncodeToString(bytes)
}

func main() {
	id, redirect := os.Getenv("CLIENT_ID"), os.Getenv("REDIRECT_URI")
	if len(os.Args) == 1 {
		verifier := random()
		hash := sha256.Sum256([]byte(verifier))
		query := url.Values{"response_type": {"code"}, "client_id": {id}, "redirect_uri": {redirect},
			"scope": {os.Getenv("SCOPE")}, "state": {random()},
			"code_challenge": {base64.RawURLEncoding.EncodeToString(hash[:])}, "code_challenge_method": {"S256"}}
		fmt.Println(os.Getenv("AUTHORIZATION_ENDPOINT") + "?" + query.Encode())
		// keep it and the state with the browser's session, and compare the state when the browser is back
		fmt.Println(verifier)
		return
	}
	form := url.Values{"grant_type": {"authorization_code"}, "code": {os.Args[1]}, "code_verifier": {os.Args[2]},
		"redirect_uri": {redirect}}
	secret, post := os.Getenv("CLIENT_SECRET"), os.Getenv("AUTH_METHOD") == "client_secret_post"
	if secret == "" || post {
		form.Set("client_id", id)
	}
	if secret != "" && post {
		form.Set("client_secret", secret)
	}
	request, err := http.NewRequest("POST", os.Getenv("TOKEN_ENDPOINT"), strings.NewReader(form.Encode()))
	if err != nil {
		panic(err)
	}
	request.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	if secret != "" && !post {
		request.SetBasicAuth(url.QueryEscape(id), url.QueryEscape(secret))
	}
	answer, err := http.DefaultClient.Do(request)
	if err != nil {
		panic(err)
	}
	defer answer.Body.Close()
	body, _ := io.ReadAll(answer.Body)
	fmt.Println(string(body))
	if answer.StatusCode != 200 {
		os.Exit(1)
	}
}
