-- Nearly every line is of a token, so the index of all lines finds them as well; this one made each token dearer to note.
DROP INDEX audit_of_token;
