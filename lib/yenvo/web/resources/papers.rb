# frozen_string_literal: true

require "base64"

module Yenvo
  module Web
    # Papers of the set-up and the letterhead, for administrators.
    class Papers < Base
      before { may.set_up! }

      get("/?") { answer 200, shown }
      post("/?") { answer 201, shown(key: changes.write(nil, written, cause:)) }
      put("/?") { answer 200, shown(key: changes.write(key, written, cause:)) }
      delete("/?") { changes.retire(key, anyway: body_of_call["anyway"] == true, cause:).then { answer 200, shown } }
      post("/back") { changes.bring_back(key, cause:).then { answer 200, shown } }

      # A document as it is; the next version where a key says of what.
      post "/document" do
        given = {"form" => "document", "bytes" => env["yenvo.bytes"], "number" => number("number")}
        given.merge!(params.slice("name", "kind"))
        answer 201, shown(key: changes.write(params["key"], given, cause:))
      end

      get "/version" do
        row = changes.version!(params["key"], number("number"))
        text = written?(row) ? text_of(row) : nil
        answer 200, {**present.kept_version(row, changes), form: row[:form], page: row[:page], text:}
      end

      # The document of a version, as it was uploaded.
      get "/document" do
        row = changes.version!(params["key"], number("number"))
        given = Core::Papers::GIVEN.fetch(row[:form])
        type, ending = written?(row) ? ["text/markdown; charset=utf-8", "md"] : [given.type, given.ending]
        headers "content-type" => type, "cache-control" => "private, no-store",
          "content-disposition" => "attachment; filename=\"#{row[:key]}-#{row[:number]}.#{ending}\""
        row[:body]
      end

      # What it would come to on a record; of what is written as it stands in the form, else of a version.
      post "/preview" do
        record = sight.record!(body_of_call["record"])
        given = body_of_call["paper"] ? written : kept(*body_of_call.values_at("key", "number"))
        given_out, bytes, words = changes.preview(given, record, now:)
        answer 200, {type: given_out.ending, data: Base64.strict_encode64(bytes), words:}
      end

      put "/letterhead" do
        logo = body_of_call["logo"]
        changes.write_letterhead(body_of_call["lines"], logo && Base64.strict_decode64(logo), cause:)
        answer 200, shown
      rescue ArgumentError
        raise Store::Refused.at("logo" => "The logo is not written as Base64 is (RFC 4648). Choose it once more.")
      end

      get "/logo" do
        logo = changes.letterhead.logo or raise Store::NotFound, "There is no logo."
        headers "content-type" => logo.start_with?("\x89PNG".b) ? "image/png" : "image/jpeg",
          "cache-control" => "private, no-store"
        logo
      end

      private

      def changes = Store::Papers.new(root, seen:)
      def key = body_of_call["key"]
      def written = {**body_of_call["paper"], "form" => "markdown"}

      def kept(key, number)
        version = changes.version!(key, number)
        body = written?(version) ? {"text" => text_of(version)} : {"bytes" => version[:body]}
        head = version.slice(:page, :form).transform_keys(&:to_s)
        {"kind" => changes.find!(key)[:kind], "name" => key, **head, **body}
      end

      def written?(version) = version[:form] == "markdown"
      def text_of(version) = version[:body].dup.force_encoding("UTF-8")

      def shown(more = {})
        head = changes.letterhead
        letterhead = {name: head.name, lines: head.lines, logo: !head.logo.nil?}
        {papers: present.in_versions(changes), letterhead:, **more}
      end
    end
  end
end
