# frozen_string_literal: true

require "securerandom"

module Yenvo
  module Store
    # Forms for visitors: each has a draft that is written, and versions that were published and never change. Under its
    # address visitors get the newest.
    class Forms < Base
      include Sheets

      keeps :forms

      MOST = 300
      MOST_VERSIONS = 1_000
      # Characters of an address, and bytes of a draft.
      ADDRESS = 22
      MOST_BYTES = 200_000
      # What is kept of a draft.
      PARTS = ["kind", "contact", "items", "fixed", "origins", *Core::Form::TEXTS.keys].freeze

      def noun = "form"

      # @param address [String]
      # @return [Array(Hash, Hash)] the row of a published form, and what its newest version says
      # @raise [NotFound]
      def at!(address)
        row = table.where(address: address.to_s, retired_at: nil).exclude(number: 0).first
        row || raise(NotFound, "There is no form at this address.")
        [row, body(row[:key], row[:number])]
      end

      # @return [Hash] what a version says
      # @raise [NotFound]
      def body(key, number) = load(version!(key, number)[:body])

      # @param number [Integer, nil] nil for the newest
      # @raise [NotFound]
      def version!(key, number = nil)
        found = versions.where(key: key.to_s)
        row = number ? found.where(number:).first : found.reverse(:number).first
        row || raise(NotFound, "#{none(key).delete_suffix(".")} with a version #{number}.")
      end

      # @return [Array<Hash>] number, by and at of each, the newest first
      def versions_of(key) = versions.where(key:).reverse(:number).select(:number, :by, :at).all

      # Makes one, with what most forms ask.
      # @return [String] its key
      # @raise [Refused]
      def make(name, kind, cause:)
        name = free_name(name, nil)
        type = makes(kind)
        key = fresh_key(name, MOST)
        save(cause) do
          table.insert(
            key:, name:, kind: type.key, address: SecureRandom.alphanumeric(ADDRESS), draft: dump(first(name, type)),
            written_by: cause.who, written_at: cause.at
          )
        end
        key
      end

      # Writes the draft; what is wrong with it is said, and kept all the same.
      # @param given [Hash] see docs/forms.md
      # @param seen [String, nil] when the draft was written on which this one rests
      # @raise [Refused, NotFound, Conflict]
      def write(key, given, cause:, seen: nil)
        root.transaction do
          row = used(key).for_update.first || find!(key)
          same!(row, seen)
          draft = dump(given.slice(*PARTS).merge("kind" => row[:kind]))
          refuse("", "It says more than a form can take.") if draft.bytesize > MOST_BYTES
          columns = {draft:, written_by: cause.who, written_at: cause.at}
          name = free_name(given.fetch("name", row[:name]), row)
          next table.where(key:).update(columns) if name == row[:name]

          save(cause) { table.where(key:).update(**columns, name:) }
        end
      end

      # Makes the draft what visitors see.
      # @return [Integer] number of the version
      # @raise [Refused] with all that is wrong with it
      def publish(key, cause:, seen: nil)
        number = nil
        save(cause) do
          row = find!(key)
          same!(row, seen)
          refuse_problems(read(load(row[:draft]))[1])
          number = versions.where(key:).max(:number).to_i + 1
          refuse("", "At most #{MOST_VERSIONS} versions.") if number > MOST_VERSIONS
          versions.insert(key:, number:, body: row[:draft], by: cause.who, at: cause.at)
          table.where(key:).update(number:)
        end
        number
      end

      # Closes a form, which then says its own words, or opens it again.
      # @param open [Boolean]
      def open(key, open, cause:)
        set(find!(key), {closed_at: open ? nil : cause.at}, cause)
      end

      # @raise [Refused] while something leans on it (unless +anyway+)
      def retire(key, cause:, anyway: false)
        row = find!(key)
        taking_away("form", "the form #{row[:name]}", ["form #{key}"], anyway, cause) do
          set(row, {retired_at: cause.at}, cause)
        end
      end

      # @param plain [Hash]
      # @return [Array(Core::Form, Array<Core::Problem>)] as it is read with the set-up of now
      def read(plain)
        form, problems = Core::FormReader.read(plain, schema)
        gone = form ? gone_records(form) : {}
        problems += gone.map { |name, why| Core::Problem.at(["fixed", name], why) }
        [form&.with(fixed: form.fixed.except(*gone.keys)), problems]
      end

      private

      def versions = db[:form_versions]

      # Links of its fixed values to records that are not there, or of another kind.
      def gone_records(form)
        links = form.fixed.select { |key, _| form.kind.field(key).type == "link" }
        kinds = root.records.titles(links.values).transform_values { |row| row[:kind] }
        lost = links.reject { |key, id| kinds[id] && form.kind.field(key).leads_to?(schema.kind!(kinds[id])) }
        lost.to_h { |key, _| [key, "must be a record that is there; choose another"] }
      end

      # A form about a kind that leads to contacts asks for one.
      def first(name, type)
        person = schema.kind(Core::Form::PERSON)
        email = person&.own_fields&.find { |field| field.type == "email" }
        link = email && type.links.find { |field| field.leads_to?(person) && !field.worked_out? }
        asks = first_asks(type.key == person&.key, link, email)
        {
          "kind" => type.key, "heading" => name, "contact" => link&.key, "fixed" => {}, "origins" => [],
          "items" => asks.map { |ask, label| {"ask" => ask, "label" => label, "required" => true} }
        }
      end

      def first_asks(of_contact, link, email)
        return [["title", "What it is about"]] unless of_contact || link

        of = of_contact ? "" : Core::FormItem::CONTACT
        asks = [["#{of}title", "Your name"]]
        email ? [*asks, ["#{of}#{email.key}", "Your e-mail"]] : asks
      end
    end
  end
end
