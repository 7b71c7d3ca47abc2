// go run connect.go, with the settings in the environment. Prints an access token (RFC 6749 §4.4).
package main

import (
	"fmt"
	"io"
	"net/http"
	"net/url"
	"os"
	"strings"
)

func main() {
	form := url.Values{"grant_type": {"client_credentials"}, "scope": {os.Getenv("SCOPE")}}
	post := os.Getenv("AUTH_METHOD") == "client_secret_post"
	if post {
		form.Set("client_id", os.Getenv("CLIENT_ID"))
		form.Set("client_secret", os.Getenv("CLIENT_SECRET"))
	}
	request, err := http.NewRequest("POST", os.Getenv("TOKEN_ENDPOINT"), strings.NewReader(form.Encode()))
	if err != nil {
		panic(err)
	}
	request.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	if !post {
		request.SetBasicAuth(url.QueryEscape(os.Getenv("CLIENT_ID")), url.QueryEscape(os.Getenv("CLIENT_SECRET")))
	}
	answer, err := http.DefaultClient.Do(request)
	if err != nil {
		panic(err)
	}
	defer answer.Body.Close()
	body, _ := io.ReadAll(answer.Body)
	fmt.Println(string(body)) // {"access_token": …, "expires_in": …} or {"error": …}
	if answer.StatusCode != 200 {
		os.Exit(1)
	}
}
