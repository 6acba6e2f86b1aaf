# frozen_string_literal: true

module Yenvo
  module Store
    # Takes what visitors send by forms: makes the record and, where the form asks an e-mail, finds its contact or makes
    # one, all in one transaction, and each sending once.
    class FormSends < Base
      keeps :form_sends

      DOOR = "form"
      # What stands on the contact that was found, since nobody has shown who they are.
      DIFFERS = "The form “%<form>s” was sent with this e-mail. It says otherwise: %<said>s. Nothing was changed."
      AGAIN = "The form “%<form>s” was sent again: %<said>s."

      # @param row [Hash] of the form
      # @param form [Core::Form]
      # @param answer [Core::FormAnswer]
      # @param once [String] the same when it is sent again
      # @param files [Array<Array(String, String)>] name and bytes of each
      # @return [Hash, nil] row of the sending; nil when it has come before
      # @raise [Refused]
      def take(row, form, answer, once:, consent:, files:, cause:)
        root.transaction do
          id = begin_once(row, once, consent, cause)
          next unless id

          hold(answer, cause)
          contact, record = form.of_contact? ? itself(row, form, answer, cause) : both(row, form, answer, cause)
          files.each { |name, bytes| root.attachments.add({record_id: record}, name, bytes, cause:) }
          table.where(id:).update(record_id: record, contact_id: contact)
          table.where(id:).first
        end
      end

      # @return [Hash{String => Integer}] how many were sent by each form since
      def counts(since:) = table.where { at >= since }.group_and_count(:form).as_hash(:form, :count)

      private

      def begin_once(row, once, consent, cause)
        columns = {form: row[:key], number: row[:number], once:, consent:, at: cause.at}
        db.transaction(savepoint: true) { table.insert(columns) }
      rescue Sequel::UniqueConstraintViolation
        nil
      end

      def hold(answer, cause)
        root.contact_by_mail.hold(answer.email, now: cause.at) if answer.email
      end

      def find(...) = root.contact_by_mail.find(...)

      def both(row, form, answer, cause)
        contact = answer.email && contact(row, form, answer.contact, answer.email, cause)
        linked = (contact && form.link) ? {form.link.key => contact} : {}
        [contact, make(row, form.kind, {**answer.record, **linked}, cause)]
      end

      # A form that makes contacts finds the one of that e-mail, too.
      def itself(row, form, answer, cause)
        found = find(form.finder.key, answer.email)
        return [nil, make(row, form.kind, answer.record, cause)] unless found

        said = answer.record.except(*form.fixed.keys)
        fill(row, form.kind, found, said, AGAIN, cause)
        [found["id"], found["id"]]
      end

      def contact(row, form, values, email, cause)
        found = find(form.finder.key, email)
        return make(row, form.person, values, cause) unless found

        fill(row, form.person, found, values, DIFFERS, cause)
        found["id"]
      end

      # What is empty is filled in; what stands there stays, and the difference is written down.
      def fill(row, kind, found, values, sentence, cause)
        empty = values.select { |key, _| found[key].nil? }
        root.records.change(found["id"], empty, cause:) if empty.any?
        told = (sentence == AGAIN) ? values : values.reject { |key, value| empty.key?(key) || like?(found[key], value) }
        told = told.except("title") if sentence == DIFFERS && told["title"].to_s.casecmp?(values[kind_email(kind)].to_s)
        return if told.empty?

        said = told.map { |key, value| "#{kind.field(key).label}: #{shown(kind.field(key), value)}" }.join("; ")
        text = format(sentence, form: row[:name], said:)
        root.interactions.log(found["id"], "note", text[0, Core::Reading::MAX_LONG_TEXT], cause:)
      end

      def kind_email(kind) = kind.own_fields.find { |field| field.type == "email" }&.key
      def like?(was, is) = was.to_s.casecmp?(is.to_s)
      def shown(field, value) = Core::Show.value(field, value, schema)

      def make(row, kind, values, cause) =
        root.records.make(kind.key, values, cause:, came: {"door" => DOOR, "form" => row[:key]})["id"]
    end
  end
end
