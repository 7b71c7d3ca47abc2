// go run connect.go, with the settings in the environment. Shows a code, and waits until a person has typed it (RFC
// 8628).
package main

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"os"
	"time"
)

func post(endpoint string, form url.Values) map[string]any {
	answer, err := http.PostForm(os.Getenv(endpoint), form)
	if err != nil {
		panic(err)
	}
	defer answer.Body.Close()
	members := map[string]any{}
	if err := json.NewDecoder(answer.Body).Decode(&members); err != nil {
		panic(err)
	}
	return members
}

func main() {
	id := os.Getenv("CLIENT_ID")
	begun := post("DEVICE_AUTHORIZATION_ENDPOINT", url.Values{"client_id": {id}, "scope": {os.Getenv("SCOPE")}})
	fmt.Println("Open", begun["verification_uri"], "and type", begun["user_code"])
	wait := 5 * time.Second
	if seconds, told := begun["interval"].(float64); told {
		wait = time.Duration(seconds) * time.Second
	}
	for {
		time.Sleep(wait)
		answer := post("TOKEN_ENDPOINT", url.Values{"grant_type": {"urn:ietf:params:oauth:grant-type:device_code"},
			"device_code": {fmt.Sprint(begun["device_code"])}, "client_id": {id}})
		if answer["error"] == "slow_down" {
			wait += 5 * time.Second
		} else if answer["error"] != "authorization_pending" {
			text, _ := json.Marshal(answer)
			fmt.Println(string(text))
			if answer["access_token"] == nil {
				os.Exit(1)
			}
			return
		}
	}
}
